import { routes } from '../../../../server/web';

export const GET = routes.shelfThing;
export const PATCH = routes.renameOnShelf;
export const DELETE = routes.removeFromShelf;
