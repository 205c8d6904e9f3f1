import { routes } from '../../../../../server/web';

/** Nothing of it may be made ahead. */
export const dynamic = 'force-dynamic';
export const GET = routes.events;
