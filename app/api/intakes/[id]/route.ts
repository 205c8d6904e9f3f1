import { routes } from '../../../../server/web';

export const GET = routes.readIntake;
export const DELETE = routes.dropIntake;
