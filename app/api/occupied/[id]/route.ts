import { routes } from '../../../../server/web';

/** Tidies a project. */
export const POST = routes.tidyProject;
