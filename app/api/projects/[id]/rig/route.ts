import { routes } from '../../../../../server/web';

export const GET = routes.rigRevision;
export const POST = routes.saveRig;
