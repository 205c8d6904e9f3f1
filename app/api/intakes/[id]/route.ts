import { routes } from '../../../../server/web';

export const GET = routes.readIntake;
export const POST = routes.takeFinish;
export const DELETE = routes.dropIntake;
