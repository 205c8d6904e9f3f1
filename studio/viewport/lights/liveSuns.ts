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
import { LIVE_SHADOWS, type LiveShadows, type SunLight } from '../../../core/rig';
import { luminance, scaleRgb } from '../../../core/units';

/** What the shadow map of one light costs. */
export interface ShadowCost {
  /** Time to draw it, as measured here. */
  ms: number;
  /** Edge of the ground that one of its texels covers. */
  texelM: number;
}

interface Live {
  light: DirectionalLight;
  /** What its shadow map was drawn for, and its edge in texels. */
  drawn: string;
  mapSize: number;
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
   * @param focus the point looked at; shadows reach about it
   * @param detail edges of the shadow maps as a share of those at rest
   */
  show(suns: SunLight[], focus: Vector3, shadows: LiveShadows, detail: number): void {
    while (this.lights.length < suns.length) this.lights.push({ light: this.create(), drawn: '', mapSize: 0 });
    this.lights.forEach((live, i) => {
      const sun = suns[i];
      live.light.visible = sun !== undefined;
      if (sun) this.aim(live, sun, focus, shadows, detail);
    });
  }

  /** Something that casts has moved: shadows are drawn anew. */
  moved(): void {
    for (const { light } of this.lights) light.shadow.needsUpdate = light.visible;
  }

  /** Draws the scene small with and without one light's shadow map and compares; null while no light shines live. */
  cost(renderer: WebGLRenderer, camera: Camera): ShadowCost | null {
    const light = this.lights.find((l) => l.light.visible)?.light;
    if (!light) return null;
    const target = new WebGLRenderTarget(1, 1);
    const pixel = new Uint8Array(4);
    const drawn = (withShadow: boolean) => {
      const started = performance.now();
      light.shadow.needsUpdate = withShadow;
      renderer.setRenderTarget(target);
      renderer.render(this.scene, camera);
      // Reading a pixel back is the one thing that waits for all that was drawn.
      renderer.readRenderTargetPixels(target, 0, 0, 1, 1, pixel);
      renderer.setRenderTarget(null);
      return performance.now() - started;
    };
    drawn(true);
    const ms = Math.max(0, drawn(true) - drawn(false));
    target.dispose();
    const { width } = light.shadow.mapSize;
    return { ms, texelM: (light.shadow.camera.right * 2) / width };
  }

  private create(): DirectionalLight {
    const light = new DirectionalLight();
    light.castShadow = true;
    light.shadow.autoUpdate = false;
    light.target = new Object3D();
    this.scene.add(light, light.target);
    return light;
  }

  private aim(live: Live, { direction, illuminance, discDeg }: SunLight, focus: Vector3, shadows: LiveShadows, detail: number): void {
    const { reachM } = LIVE_SHADOWS[shadows];
    const mapSize = Math.ceil(LIVE_SHADOWS[shadows].mapSize * detail);
    const { light } = live;
    const lux = luminance(illuminance);
    light.intensity = lux;
    const [r, g, b] = scaleRgb(illuminance, lux > 0 ? 1 / lux : 0);
    light.color.setRGB(r, g, b);

    const whole = this.bounds.getBoundingSphere(new Sphere());
    const radius = Math.min(whole.radius, reachM);
    // The middle moves in wide steps, so that walking does not ask for a new shadow map at every pace.
    const step = radius / 4;
    const middle = whole.radius <= reachM ? whole.center : new Vector3(...focus.toArray().map((v) => Math.round(v / step) * step));
    const towards = new Vector3(...direction);
    const key = [...direction, ...middle.toArray(), discDeg, radius, LIVE_SHADOWS[shadows].mapSize].map((v) => v.toFixed(4)).join();
    // A map that is finer than it has to be stays.
    if (key === live.drawn && mapSize <= live.mapSize) return;
    live.drawn = key;
    live.mapSize = mapSize;

    const distance = whole.radius * 2;
    light.position.copy(middle).addScaledVector(towards, distance);
    light.target.position.copy(middle);
    const { camera } = light.shadow;
    Object.assign(camera, { left: -radius, right: radius, top: radius, bottom: -radius, near: 1, far: distance * 2 });
    camera.updateProjectionMatrix();
    light.updateMatrixWorld();
    light.target.updateMatrixWorld();
    const texel = (radius * 2) / mapSize;
    light.shadow.mapSize.set(mapSize, mapSize);
    light.shadow.normalBias = texel * 1.5;
    light.shadow.bias = -0.01 / (distance * 2);
    light.shadow.radius = Math.min(4, Math.max(1, discDeg * 1.5));
    light.shadow.needsUpdate = true;
  }

  dispose(): void {
    for (const { light } of this.lights) {
      this.scene.remove(light, light.target);
      light.dispose();
    }
  }
}
