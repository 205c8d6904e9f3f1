import { routes } from '../../../../server/web';

export const PATCH = routes.changeBake;
export const DELETE = routes.cancelBake;
