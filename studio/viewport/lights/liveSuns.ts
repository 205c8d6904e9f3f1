import {
  type Box3,
  type Camera,
  DirectionalLight,
  Object3D,
  Sphere,
  Vector3,
  type Scene,
  WebGLRenderTarget,
  type WebGLRenderer,
} from 'three';
import { SHADOW_MAPS, SHADOW_MAP_SIZE, type SunLight } from '../../../core/rig';
import { luminance, scaleRgb } from '../../../core/units';
import { NestedShadow, RATIO, middleOf, nestedReaches, type Look } from './nestedShadow';

/** What a nested map of one light's shadow costs. */
export interface ShadowCost {
  reachM: number;
  /** Time to draw it, as measured here. */
  ms: number;
  /** Edge of the ground that one of its texels covers. */
  texelM: number;
}

interface Live {
  light: DirectionalLight;
  shadow: NestedShadow;
  /** What its shadow map was drawn for, and its edge in texels. */
  drawn: string;
  mapSize: number;
}

/** A level of this radius is fine enough on its widest map, metres: the maps stay where they are as one walks about in it. */
const SMALL_M = 12;

/** Where maps lie about, and how far the widest reaches: as far as the level does, if that is not too far. */
function mapsAbout(look: Look, { center, radius }: Sphere, reachM: number): { middle: Vector3; radius: number } {
  if (radius <= Math.min(reachM, SMALL_M)) return { middle: center, radius };
  const most = Math.min(reachM, radius * 2);
  // The middle moves in steps of half the narrowest map, so that walking does not ask for new maps at every pace.
  const step = nestedReaches(most)[0]! / 2;
  const middle = middleOf(look, most);
  middle.set(...(middle.toArray().map((v) => Math.round(v / step) * step) as [number, number, number]));
  return { middle, radius: Math.min(reachM, radius + middle.distanceTo(center)) };
}

/** Suns that light the level live, with shadows that are drawn anew only when something about them has changed. */
export class LiveSuns {
  private readonly lights: Live[] = [];

  constructor(
    private readonly scene: Scene,
    private readonly bounds: Box3,
  ) {}

  /**
   * Lights the level by these suns.
   *
   * @param look shadows reach about where it goes
   * @param reachM how far
   * @param detail edges of the shadow maps as a share of those at rest
   */
  show(suns: SunLight[], look: Look, reachM: number, detail: number): void {
    while (this.lights.length < suns.length) this.lights.push({ ...this.create(), drawn: '', mapSize: 0 });
    this.lights.forEach((live, i) => {
      const sun = suns[i];
      live.light.visible = sun !== undefined;
      if (sun) this.aim(live, sun, look, reachM, detail);
    });
  }

  /** Something that casts has moved: shadows are drawn anew. */
  moved(): void {
    for (const { light, shadow } of this.lights) shadow.needsUpdate = light.visible;
  }

  /** Draws the scene small with and without each map of one light and compares; null while no light shines live. */
  cost(renderer: WebGLRenderer, camera: Camera): ShadowCost[] | null {
    const shadow = this.lights.find((l) => l.light.visible)?.shadow;
    if (!shadow) return null;
    const target = new WebGLRenderTarget(1, 1);
    const pixel = new Uint8Array(4);
    const drawn = (map: number | null, isDrawn = true) => {
      const started = performance.now();
      shadow.only = map;
      shadow.needsUpdate = isDrawn;
      renderer.setRenderTarget(target);
      renderer.render(this.scene, camera);
      // Reading a pixel back is the one thing that waits for all that was drawn.
      renderer.readRenderTargetPixels(target, 0, 0, 1, 1, pixel);
      renderer.setRenderTarget(null);
      return performance.now() - started;
    };
    drawn(null);
    const without = drawn(null, false);
    const reach = shadow.getCamera(SHADOW_MAPS - 1).right;
    const costs = nestedReaches(reach).map((reachM, map) => ({
      reachM,
      ms: Math.max(0, drawn(map) - without),
      texelM: (reachM * 2) / shadow.mapSize.x,
    }));
    drawn(null);
    target.dispose();
    return costs;
  }

  private create(): Pick<Live, 'light' | 'shadow'> {
    const light = new DirectionalLight();
    const shadow = new NestedShadow();
    shadow.autoUpdate = false;
    Object.assign(light, { castShadow: true, shadow, target: new Object3D() });
    this.scene.add(light, light.target);
    return { light, shadow };
  }

  private aim(live: Live, { direction, illuminance, discDeg }: SunLight, look: Look, reachM: number, detail: number): void {
    const mapSize = Math.ceil(SHADOW_MAP_SIZE * detail);
    const { light, shadow } = live;
    const lux = luminance(illuminance);
    light.intensity = lux;
    const [r, g, b] = scaleRgb(illuminance, lux > 0 ? 1 / lux : 0);
    light.color.setRGB(r, g, b);

    const whole = this.bounds.getBoundingSphere(new Sphere());
    const { middle, radius } = mapsAbout(look, whole, reachM);
    const towards = new Vector3(...direction);
    const key = [...direction, ...middle.toArray(), discDeg, radius].map((v) => v.toFixed(4)).join();
    // A map that is finer than it has to be stays.
    if (key === live.drawn && mapSize <= live.mapSize) return;
    live.drawn = key;
    live.mapSize = mapSize;

    // So far that the whole level lies between the light and the depth that its maps reach.
    const distance = whole.radius + middle.distanceTo(whole.center) + 1;
    light.position.copy(middle).addScaledVector(towards, distance);
    light.target.position.copy(middle);
    shadow.reach(radius, distance * 2);
    light.updateMatrixWorld();
    light.target.updateMatrixWorld();
    const texel = (radius * 2) / mapSize / RATIO ** (SHADOW_MAPS - 1);
    shadow.mapSize.set(mapSize, mapSize);
    shadow.normalBias = texel * 1.5;
    shadow.bias = -texel / (distance * 2);
    shadow.radius = Math.min(4, Math.max(1, discDeg * 1.5));
    shadow.needsUpdate = true;
  }

  dispose(): void {
    for (const { light } of this.lights) {
      this.scene.remove(light, light.target);
      light.dispose();
    }
  }
}
