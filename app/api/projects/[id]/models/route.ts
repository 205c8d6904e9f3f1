import { routes } from '../../../../../server/web';

export const dynamic = 'force-dynamic';
export const GET = routes.models;
export const POST = routes.receiveModel;
