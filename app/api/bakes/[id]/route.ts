import { routes } from '../../../../server/web';

export const DELETE = routes.cancelBake;
