import { create } from 'zustand';
import type { SurfaceCast } from '../../core/preflight';
import type { ObjectFacts, Shape } from '../../core/objects';
import type { Lighting, Vantage } from '../../core/rig';
import type { Vec3 } from '../../core/units';
import type { Step } from './gestures/viewControls';
import type { PictureRect } from './level/objectIndex';
import type { OwnGlow } from './level/glows';

/** What the rest of the studio may ask of the picture; null while there is none. */
export interface View {
  /** Hash of the level that is drawn; '' while there is none. */
  drawn: string;
  /** Id of the bake whose light is in the picture; '' while there is none. */
  baked: string;
  /** Ids of other bakes that are at hand to compare with. */
  others: readonly string[];
  /** Id of the saved vantage that it is looked from now; null elsewhere. */
  standsAt: string | null;
  /** Where it is looked from now. */
  vantage: (() => Vantage) | null;
  /** Goes to a vantage; null is the view of the whole level. */
  stand: ((vantage: Vantage | null) => void) | null;
  /** A place for the test ball, on the floor under what is looked at. */
  placeForBall: (() => Vec3) | null;
  /** Walks; answers whether it goes on without another step, null where there is no room to stand. */
  walk: ((step: Step, seconds: number) => boolean | null) | null;
  /** Stands someone at a place of the picture, -1..1 each way; answers whether there is room. */
  standAt: ((x: number, y: number) => boolean) | null;
  /** Crouches or stands up; answers whether there is room for that. */
  crouch: ((crouched: boolean) => boolean) | null;
  /** Nearest surface from a point, whether it is met from behind. */
  cast: SurfaceCast | null;
  /** Name of the object that is met first from a point; null where nothing is. */
  castObject: ((from: Vec3, direction: Vec3) => string | null) | null;
  /** Names of the level's objects. */
  objects: (() => string[]) | null;
  /** Names of its objects' materials, and of the nodes that they lie under. */
  names: (() => { materials: string[]; groups: string[] }) | null;
  /** Names of all materials of its file, and of the variants of them. */
  fileMaterials: (() => { names: string[]; variants: readonly string[] }) | null;
  /** Name of the object at a place of the picture, -1..1 each way; null for the sky. */
  objectAt: ((x: number, y: number) => string | null) | null;
  /** What is known of the objects. */
  facts: (() => readonly ObjectFacts[]) | null;
  /** Shapes of the objects that may be equal to some of them. */
  shapesLike: ((names: readonly string[]) => Map<string, Shape>) | null;
  /** Names of the objects that lie wholly within a rectangle of the picture. */
  objectsWithin: ((rect: PictureRect) => string[]) | null;
  /** Names of those that the picture shows. */
  inPicture: (() => string[]) | null;
  /** The level's glowing materials, with their luminance in cd/m2. */
  glows: (() => OwnGlow[]) | null;
  /** A picture under another light, of the present view or from a vantage: RGBA bytes, top row first. */
  picture: ((lighting: Lighting, width: number, height: number, from?: Vantage) => Uint8ClampedArray<ArrayBuffer>) | null;
  /** Radiances of the present view under a light, before exposure and grade: RGBA, cd/m2, top row first. */
  radiances: ((lighting: Lighting, width: number, height: number) => Float32Array<ArrayBuffer>) | null;
}

/** While there is no picture. */
export const NO_VIEW: View = {
  drawn: '',
  baked: '',
  others: [],
  standsAt: null,
  vantage: null,
  stand: null,
  placeForBall: null,
  walk: null,
  standAt: null,
  crouch: null,
  cast: null,
  castObject: null,
  objects: null,
  names: null,
  fileMaterials: null,
  objectAt: null,
  facts: null,
  shapesLike: null,
  objectsWithin: null,
  inPicture: null,
  glows: null,
  picture: null,
  radiances: null,
};

export const useView = create<View>(() => NO_VIEW);

/** Views nearer to each other than this, metres, are one. */
const SAME_VIEW_M = 0.002;

/** Whether two views show the same. */
export const isSameView = (a: Vantage, b: Vantage): boolean =>
  a.fovDeg === b.fovDeg && (['eye', 'target'] as const).every((key) => a[key].every((v, c) => Math.abs(v - b[key][c]!) < SAME_VIEW_M));
