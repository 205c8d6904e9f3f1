import { routes } from '../../../../server/web';

export const dynamic = 'force-dynamic';
export const GET = routes.bakeParts;
export const PATCH = routes.changeBake;
export const DELETE = routes.cancelBake;
