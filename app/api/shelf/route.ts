import { routes } from '../../../server/web';

export const dynamic = 'force-dynamic';
export const GET = routes.shelf;
export const POST = routes.keepOnShelf;
