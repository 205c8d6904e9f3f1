import { routes } from '../../../../../../server/web';

export const dynamic = 'force-dynamic';
export const POST = routes.copySkyImage;
export const PATCH = routes.changeSkyImage;
export const DELETE = routes.deleteSkyImage;
export const PUT = routes.replaceSkyFile;
