import { type Box3, DirectionalLight, Object3D, Sphere, Vector3, type Scene } from 'three';
import type { SunLight } from '../../core/rig';
import { luminance, scaleRgb } from '../../core/units';

const MAP_SIZE = 4096;
/** Radius in metres about the point looked at within which the sun casts live shadows. */
const REACH_M = 70;

interface Live {
  light: DirectionalLight;
  /** What its shadow map was drawn for. */
  drawn: string;
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
   */
  show(suns: SunLight[], focus: Vector3): void {
    while (this.lights.length < suns.length) this.lights.push({ light: this.create(), drawn: '' });
    this.lights.forEach((live, i) => {
      const sun = suns[i];
      live.light.visible = sun !== undefined;
      if (sun) this.aim(live, sun, focus);
    });
  }

  private create(): DirectionalLight {
    const light = new DirectionalLight();
    light.castShadow = true;
    light.shadow.mapSize.set(MAP_SIZE, MAP_SIZE);
    light.shadow.autoUpdate = false;
    light.target = new Object3D();
    this.scene.add(light, light.target);
    return light;
  }

  private aim(live: Live, { direction, illuminance, discDeg }: SunLight, focus: Vector3): void {
    const { light } = live;
    const lux = luminance(illuminance);
    light.intensity = lux;
    const [r, g, b] = scaleRgb(illuminance, lux > 0 ? 1 / lux : 0);
    light.color.setRGB(r, g, b);

    const whole = this.bounds.getBoundingSphere(new Sphere());
    const radius = Math.min(whole.radius, REACH_M);
    // The middle moves in wide steps, so that walking does not ask for a new shadow map at every pace.
    const step = radius / 4;
    const middle = whole.radius <= REACH_M ? whole.center : new Vector3(...focus.toArray().map((v) => Math.round(v / step) * step));
    const towards = new Vector3(...direction);
    const key = [...direction, ...middle.toArray(), discDeg].map((v) => v.toFixed(4)).join();
    if (key === live.drawn) return;
    live.drawn = key;

    const distance = whole.radius * 2;
    light.position.copy(middle).addScaledVector(towards, distance);
    light.target.position.copy(middle);
    const { camera } = light.shadow;
    Object.assign(camera, { left: -radius, right: radius, top: radius, bottom: -radius, near: 1, far: distance * 2 });
    camera.updateProjectionMatrix();
    light.updateMatrixWorld();
    light.target.updateMatrixWorld();
    const texel = (radius * 2) / MAP_SIZE;
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
