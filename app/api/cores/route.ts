import { routes } from '../../../server/web';

export const GET = routes.cores;
export const POST = routes.useCores;
