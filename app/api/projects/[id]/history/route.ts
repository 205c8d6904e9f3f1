import { routes } from '../../../../../server/web';

export const GET = routes.history;
