import { routes } from '../../../../../../server/web';

export const PATCH = routes.nameRevision;
