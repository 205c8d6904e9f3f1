import type { Vec3 } from '../units';

/** What a lamp's light comes out of. Its frame: forward is where it is aimed, right and up are square to it. */
export type LampShape =
  /** A ball that shines alike to all sides. */
  | { kind: 'point'; radiusM: number }
  /** A disc whose intensity holds up to the inner half-angle and is nought from the outer one on. */
  | { kind: 'spot'; radiusM: number; innerDeg: number; outerDeg: number; softness: number }
  /** A diffuse tube, along its right. */
  | { kind: 'tube'; radiusM: number; lengthM: number }
  /** A diffuse rectangle that shines forwards: its width along its right, its height along its up. */
  | { kind: 'panel'; widthM: number; heightM: number }
  /** A ball with a measured distribution: the profile's own axis lies forwards, its 0 degree plane along the right. */
  | { kind: 'measured'; radiusM: number; profileId: string };

/** How much a lamp gives: its whole flux, its highest intensity, or a share of what its profile was measured at. */
export type LampOutput = { by: 'lumens'; lumens: number } | { by: 'candela'; candela: number } | { by: 'profile'; gain: number };

/** The colour of a lamp's light: a temperature in kelvin, or a chromaticity (`#rrggbb`, sRGB). */
export type LampColor = { by: 'kelvin'; kelvin: number } | { by: 'hex'; hex: string };

/** Where a lamp points: azimuth clockwise from -Z and elevation over the horizontal, both in the space it stands in; then the turn about that axis. */
export interface Aim {
  azimuthDeg: number;
  elevationDeg: number;
  rollDeg: number;
}

/** What of a lamp's light a bake keeps: all, its bounce alone (its direct light stays live), or nothing (all of it live, without bounce). */
export type LampKept = 'all' | 'bounce' | 'nothing';

/**
 * How a lamp moves in the game; `phase` is the share of a period that it is ahead by, 0 to 1. A lamp that moves is live alone: nothing of its
 * light is baked.
 */
export type LampMotion = { phase: number } & (
  | /** Its aim turns about the upright axis, to and fro over an angle, or round and round where that is 360. */
    { as: 'sweep'; angleDeg: number; periodS: number }
    /** It hangs from a point so far over it, and swings to both sides by an angle, along an azimuth clockwise from -Z. */
  | { as: 'swing'; lengthM: number; angleDeg: number; azimuthDeg: number }
  /** It goes from where it stands through points, which are told from there, metres; then back the way it came, or round to where it began. */
  | { as: 'path'; through: Vec3[]; ends: 'back' | 'round'; speedMps: number }
);

/** One local light. */
export interface Lamp {
  id: string;
  name: string;
  /** Metres. */
  at: Vec3;
  aim: Aim;
  shape: LampShape;
  output: LampOutput;
  color: LampColor;
  /** Metres at which it is cut, smoothly; null lets it reach as far as light does. */
  reachM: number | null;
  circuitId: string | null;
  /** `nothing` for a lamp that moves. */
  kept: LampKept;
  /** Null where it stands still. */
  motion: LampMotion | null;
}

/** A measured distribution on the rig's shelf: the text of an IES file. */
export interface Profile {
  id: string;
  name: string;
  ies: string;
}

/** A light of the level's file (KHR_lights_punctual), in level space. */
export interface FileLight {
  name: string;
  kind: 'point' | 'spot' | 'directional';
  /** Metres. */
  at: Vec3;
  /** Unit length: where it shines. */
  direction: Vec3;
  /** `#rrggbb`; its hue alone. */
  color: string;
  /** Candela of a point or spot, lux of a directional light; its colour's luminance is in it. */
  strength: number;
  /** Metres at which it is cut; null where it is not. */
  reachM: number | null;
  /** Half-angles of a spot, degrees. */
  cone: { innerDeg: number; outerDeg: number } | null;
}
