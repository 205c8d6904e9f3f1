import type { Document } from '@gltf-transform/core';
import type { Light } from '@gltf-transform/extensions';
import type { FileLight } from '../lamps';
import { hexFromRgb, luminance, type Placing, type Rgb } from '../units';

/** Most lights of a file that are told of: as many as a rig may have lamps. */
const MOST_LIGHTS = 2000;

const DEG = 180 / Math.PI;

/** To a tenth of a millimetre. */
const rounded = (metres: number): number => Math.round(metres * 1e4) / 1e4 + 0;

/** The lights that a level's scene holds, wherever its nodes place them. Those that give none, or stand at no finite place, are passed over. */
export function readLights(document: Document, { metresPerUnit }: Placing): FileLight[] {
  const root = document.getRoot();
  const scene = root.getDefaultScene() ?? root.listScenes()[0];
  const found: FileLight[] = [];
  scene?.traverse((node) => {
    const light = node.getExtension<Light>('KHR_lights_punctual');
    if (!light || found.length >= MOST_LIGHTS) return;
    const m = node.getWorldMatrix();
    const length = Math.hypot(m[8]!, m[9]!, m[10]!) || 1;
    const color = light.getColor();
    const brightest = Math.max(...color);
    const strength = light.getIntensity() * luminance(color as Rgb);
    if (![...m, strength].every(Number.isFinite) || strength <= 0) return;
    const kind = light.getType() as FileLight['kind'];
    const range = light.getRange();
    found.push({
      name: (node.getName() || light.getName() || `Light ${found.length + 1}`).slice(0, 80),
      kind,
      at: [rounded(m[12]!), rounded(m[13]!), rounded(m[14]!)],
      direction: [-m[8]! / length, -m[9]! / length, -m[10]! / length],
      color: hexFromRgb(color.map((v) => v / brightest) as Rgb),
      strength,
      // A node's scale leaves the range as it is: it is in the file's unit.
      reachM: range !== null && Number.isFinite(range) && range > 0 ? range * metresPerUnit : null,
      cone: kind === 'spot' ? { innerDeg: light.getInnerConeAngle() * DEG, outerDeg: light.getOuterConeAngle() * DEG } : null,
    });
  });
  return found;
}
