import { routes } from '../../../../server/web';

export const GET = routes.openProject;
export const PATCH = routes.renameProject;
export const DELETE = routes.deleteProject;
