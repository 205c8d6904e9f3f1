import { routes } from '../../../../../../server/web';

export const PUT = routes.keepBaking;
