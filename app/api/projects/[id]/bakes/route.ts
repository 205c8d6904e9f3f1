import { routes } from '../../../../../server/web';

export const GET = routes.bakes;
export const POST = routes.requestBake;
