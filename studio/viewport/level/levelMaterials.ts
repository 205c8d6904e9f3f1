import {
  Color,
  FrontSide,
  Mesh,
  MeshDepthMaterial,
  MeshLambertMaterial,
  type BufferGeometry,
  type Material,
  type MeshStandardMaterial,
  type Texture,
} from 'three';
import { GLTFLoader } from 'three/examples/jsm/loaders/GLTFLoader.js';
import { luminance, type Rgb } from '../../../core/units';
import { download } from './download';
import type { ModelPart } from './fixtureModels';
import type { GlowData } from './glows';

/** Alpha under which nothing of a blended texture is drawn, nor stands before what lies behind. */
const LEAST_ALPHA = 0.1;

/** The parts of a model's own file. Rejected when it cannot be fetched. */
export async function loadModelParts(url: string): Promise<ModelPart[]> {
  const bytes = await download(url, new AbortController().signal, () => undefined);
  const { scene } = await new GLTFLoader().parseAsync(bytes, '');
  scene.updateMatrixWorld(true);
  const parts: ModelPart[] = [];
  scene.traverse((object) => {
    if (!(object instanceof Mesh)) return;
    const { geometry, matrixWorld, material } = object as Mesh<BufferGeometry, MeshStandardMaterial>;
    parts.push({ geometry, matrix: matrixWorld, material: diffuse(material, 0) });
  });
  return parts;
}

/** What of a pane is drawn: how much it covers, and the colour that is left of what it does not let through. */
function paneOf({ color, opacity, transmission = 0 }: MeshStandardMaterial & { transmission?: number }): { color: Color; opacity: number } {
  const [r, g, b] = color.toArray() as Rgb;
  const through = transmission * luminance([r, g, b]);
  const left = through < 1 ? (1 - transmission) / (1 - through) : 0;
  return { color: color.clone().multiplyScalar(left), opacity: opacity * (1 - through) };
}

/** The diffuse form of a file's material, for one lightmap. */
export function diffuse(source: MeshStandardMaterial & { transmission?: number }, map: number): MeshLambertMaterial {
  const passes = (source.transparent && source.alphaTest === 0) || (source.transmission ?? 0) > 0;
  const isDark = source.emissiveIntensity === 0;
  const glow: GlowData = {
    source: source.name,
    emissive: isDark ? [0, 0, 0] : (source.emissive.toArray() as Rgb),
    strength: isDark ? 1 : source.emissiveIntensity,
  };
  const { color, opacity } = paneOf(source);
  return new MeshLambertMaterial({
    userData: glow,
    name: `${source.name} ${map}`,
    color,
    map: source.map,
    emissive: new Color().setRGB(...glow.emissive),
    emissiveMap: source.emissiveMap,
    emissiveIntensity: glow.strength,
    opacity,
    transparent: passes,
    // Leaves and the like are mostly there or not, and hide one another; a plain pane hides nothing.
    depthWrite: !passes || source.map !== null,
    alphaTest: passes && source.map ? LEAST_ALPHA : source.alphaTest,
    side: source.side,
    shadowSide: source.side === FrontSide ? FrontSide : source.side,
    vertexColors: source.vertexColors,
  });
}

/** What a pane casts a live shadow by: points of it, as many as its share says. */
export function paneShadow({ map, opacity, side }: MeshLambertMaterial): MeshDepthMaterial {
  return new MeshDepthMaterial({ map, opacity, side, alphaHash: true });
}

/** Lets go of a material and its textures. */
export function disposeMaterial(material: Material): void {
  for (const value of Object.values(material)) if (value && (value as Texture).isTexture) (value as Texture).dispose();
  material.dispose();
}
