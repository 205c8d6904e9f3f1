import { routes } from '../../../../../server/web';

export const dynamic = 'force-dynamic';
export const GET = routes.skyImages;
export const POST = routes.receiveSkyImage;
