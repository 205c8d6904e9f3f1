import type { BodyLook, Moon } from '../document/night';
import type { Holds, OtherBody, Rig } from '../document/types';
import { cueOf, letGo } from './holders';

type NightRig = Pick<Rig, 'cues' | 'day'>;
export type HeldBodyName = 'sun' | 'moon';
const LOOKS = { sun: 'sunLook', moon: 'moonLook' } as const satisfies Record<HeldBodyName, keyof Holds>;

/** Lets a cue hold values of the sun or the moon. A sun has no phase. */
export function holdBody(rig: NightRig, cueId: string, body: HeldBodyName, fields: Partial<Moon>): void {
  const { holds } = cueOf(rig, cueId);
  holds[body] = { ...holds[body], ...fields };
}

/** Lets a cue follow the day again in one value of a body, or in all. */
export function releaseBody(rig: NightRig, cueId: string, body: HeldBodyName, key?: keyof Moon): void {
  letGo(cueOf(rig, cueId).holds, body, key);
}

/** Says how a body is seen in a cue. */
export function setLook(rig: NightRig, cueId: string, body: HeldBodyName, fields: Partial<BodyLook>): void {
  const { holds } = cueOf(rig, cueId);
  holds[LOOKS[body]] = { ...holds[LOOKS[body]], ...fields };
}

/** Lets a body be seen in a cue as it lights again. */
export function releaseLook(rig: NightRig, cueId: string, body: HeldBodyName, key?: keyof BodyLook): void {
  letGo(cueOf(rig, cueId).holds, LOOKS[body], key);
}

/** Changes a further sun or moon. */
export function setOther(rig: NightRig, id: string, change: Partial<OtherBody>): void {
  const body = rig.day.others.find((o) => o.id === id);
  if (!body) throw new RangeError(`The rig has no further body "${id}".`);
  Object.assign(body, change);
}
