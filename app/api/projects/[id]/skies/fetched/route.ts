import { routes } from '../../../../../../server/web';

export const dynamic = 'force-dynamic';
export const POST = routes.fetchSkyImage;
