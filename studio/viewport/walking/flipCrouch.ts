import { useView } from '../viewStore';
import { useWalk } from './walkStore';

/** Crouches, or stands up where there is room over the head. */
export function flipCrouch(): void {
  const crouched = !useWalk.getState().crouched;
  if (useView.getState().crouch?.(crouched) !== false) useWalk.setState({ crouched });
}
