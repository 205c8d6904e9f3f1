export { buildTracer, newHit, type Cutouts, type Hit, type Tracer } from './tracer';
