import { routes } from '../../../../../../../server/web';

export const GET = routes.revisionPicture;
export const PUT = routes.setRevisionPicture;
