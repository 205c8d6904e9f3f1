import { routes } from '../../../../../server/web';

export const GET = routes.look;
export const POST = routes.askLook;
