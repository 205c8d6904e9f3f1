import { routes } from '../../../../../server/web';

export const POST = routes.receiveFinish;
