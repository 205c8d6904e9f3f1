import { defaultRig } from '../../core/rig';
import { print, type Command } from '../lib/input';

/** A rig to start from. */
export const create: Command = () => print(defaultRig());
