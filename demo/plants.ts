import { BufferGeometry, CatmullRomCurve3, Color, Float32BufferAttribute, TubeGeometry, Vector3 } from 'three';
import type { Parts } from './parts';
import { randomStream } from './random';

/** What the foliage of every plant lies under: it keeps no light of its own, its leaves are finer than texels. */
export const FOLIAGE = 'Foliage';

interface Leaf {
  at: Vector3;
  /** From its stalk to its tip, and half across it, metres. */
  along: Vector3;
  across: Vector3;
  color: Color;
  /** What it is shaded as: part of a crown, not a card of its own. */
  normal: Vector3;
}

/** Leaves as flat diamonds with two sides, each side with the same normal. */
function leaves(list: readonly Leaf[]): BufferGeometry {
  const positions: number[] = [];
  const normals: number[] = [];
  const colors: number[] = [];
  for (const { at, along, across, color, normal } of list) {
    const corner = (a: number, s: number) => at.clone().addScaledVector(along, a).addScaledVector(across, s);
    const [stalk, left, right, tip] = [corner(0, 0), corner(0.45, -1), corner(0.45, 1), corner(1, 0)];
    for (const p of [stalk, right, left, left, right, tip, stalk, left, right, left, tip, right]) {
      positions.push(p.x, p.y, p.z);
      normals.push(normal.x, normal.y, normal.z);
      colors.push(color.r, color.g, color.b);
    }
  }
  const shape = new BufferGeometry();
  shape.setAttribute('position', new Float32BufferAttribute(positions, 3));
  shape.setAttribute('normal', new Float32BufferAttribute(normals, 3));
  shape.setAttribute('color', new Float32BufferAttribute(colors, 3));
  return shape;
}

/** A limb that bends through points and thins out. */
function limb(points: Vector3[], radius: number, sides = 6): BufferGeometry {
  const curve = new CatmullRomCurve3(points);
  const rings = points.length * 2;
  const hearts = curve.getSpacedPoints(rings);
  const tube = new TubeGeometry(curve, rings, radius, sides, false);
  const position = tube.getAttribute('position');
  const ring = sides + 1;
  for (let i = 0; i < position.count; i++) {
    const t = Math.floor(i / ring) / rings;
    const heart = hearts[Math.floor(i / ring)]!;
    const p = new Vector3()
      .fromBufferAttribute(position, i)
      .sub(heart)
      .multiplyScalar(1 - 0.72 * t)
      .add(heart);
    position.setXYZ(i, p.x, p.y, p.z);
  }
  return tube;
}

const around = (angle: number, y: number, out: number) => new Vector3(Math.cos(angle) * out, y, Math.sin(angle) * out);

interface PlumeLook {
  greens: readonly Color[];
  /** At the tip of some plumes. */
  blossom: Color | null;
  leafM: number;
}

/** A drooping plume: scale leaves along a bent spine, darker towards the heart of the crown. */
function plume(next: () => number, from: Vector3, out: Vector3, lengthM: number, heart: Vector3, crownM: number, look: PlumeLook): Leaf[] {
  const green = look.greens[Math.floor(next() * look.greens.length)]!;
  const blooms = look.blossom !== null && next() < 0.34;
  const side = new Vector3(out.z, 0.2, -out.x).normalize();
  const count = 11;
  return Array.from({ length: count }, (_, k): Leaf => {
    const t = (k + 0.5) / count;
    const at = from
      .clone()
      .addScaledVector(out, lengthM * t)
      .add(new Vector3(0, lengthM * (0.28 * t - 0.75 * t * t), 0));
    const turn = k * 2.4 + next();
    const along = out
      .clone()
      .multiplyScalar(0.75)
      .addScaledVector(side, 0.8 * Math.cos(turn))
      .add(new Vector3(0, 0.55 * Math.sin(turn) - 0.35 * t, 0))
      .normalize()
      .multiplyScalar(look.leafM * (1.2 - 0.6 * t));
    const across = new Vector3().crossVectors(along, new Vector3(next() - 0.5, 1, next() - 0.5)).setLength(look.leafM * 0.17);
    const depth = Math.min(1, at.distanceTo(heart) / crownM);
    const own = blooms && t > 0.5 ? look.blossom! : green;
    const color = own.clone().multiplyScalar((0.42 + 0.58 * depth * depth) * (0.85 + 0.3 * next()));
    const normal = at
      .clone()
      .sub(heart)
      .normalize()
      .multiplyScalar(0.8)
      .add(new Vector3(0, 0.5, 0))
      .normalize();
    return { at, along, across, color, normal };
  });
}

/** Linear albedo of the leaves: 0.05 to 0.2, as measured of dry-country shrubs. */
const TAMARISK: PlumeLook = {
  greens: ['#7f9a62', '#6f8c58', '#93a86e', '#688258', '#86966a'].map((c) => new Color(c)),
  blossom: new Color('#d09aa0'),
  leafM: 0.33,
};
const SCRUB: PlumeLook = {
  greens: ['#8d8f62', '#7a8358', '#a39a6c', '#6e7650'].map((c) => new Color(c)),
  blossom: null,
  leafM: 0.2,
};

/** A tamarisk: leaning stems that fork, and plumes of scale leaves, some in flower. */
export function tamarisk(parts: Parts, name: string, x: number, y: number, z: number, height: number, seed: number): void {
  const next = randomStream(seed);
  const foot = new Vector3(x, y - 0.1, z);
  const heart = new Vector3(x, y + height * 0.56, z);
  const crownM = height * 0.46;
  const stems: BufferGeometry[] = [];
  const crown: Leaf[] = [];
  for (let s = 0; s < 7; s++) {
    const heading = (s / 7 + next() * 0.1) * Math.PI * 2;
    const lean = s === 0 ? 0.1 : 0.35 + next() * 0.45;
    const top = height * (0.62 + next() * 0.22);
    const points = [0, 0.33, 0.66, 1].map((t) =>
      foot.clone().add(around(heading + 0.5 * t * (next() - 0.5), top * t, 0.08 + lean * top * t ** 1.6 * 0.62)),
    );
    stems.push(limb(points, 0.075 + 0.05 * next()));
    const curve = new CatmullRomCurve3(points);
    for (let b = 0; b < 5; b++) {
      const from = curve.getSpacedPoints(20)[8 + 3 * b]!;
      const twig = heading + (b % 2 ? 1 : -1) * (0.7 + 0.7 * next());
      const reach = height * (0.13 + 0.1 * next());
      const end = from.clone().add(around(twig, reach * (0.5 + 0.5 * next()), reach));
      stems.push(
        limb(
          [
            from,
            from
              .clone()
              .lerp(end, 0.5)
              .add(new Vector3(0, 0.1, 0)),
            end,
          ],
          0.028,
          4,
        ),
      );
      for (let p = 0; p < 8; p++) {
        const at = from.clone().lerp(end, 0.2 + 0.13 * p);
        const out = around(next() * Math.PI * 2, 0.15 + 0.5 * next(), 1).normalize();
        crown.push(...plume(next, at, out, height * (0.15 + 0.09 * next()), heart, crownM, TAMARISK));
      }
    }
  }
  parts.add(`${name} stems`, 'bark', stems, 0.6);
  parts.add(`${name} leaves`, 'leaf', leaves(crown), 1, FOLIAGE);
}

/** Low bushes of dry country, as one object. */
export function scrub(parts: Parts, name: string, places: readonly [x: number, y: number, z: number, size: number][], seed: number): void {
  const next = randomStream(seed);
  const all = places.flatMap(([x, y, z, size]) => {
    const heart = new Vector3(x, y - size * 0.1, z);
    return Array.from({ length: 7 }, (_, i) => {
      const out = around(i * 2.4 + next(), 0.5 + 0.9 * next(), 1).normalize();
      return plume(next, heart, out, size * (0.7 + 0.4 * next()), heart, size, { ...SCRUB, leafM: SCRUB.leafM * Math.min(1.2, size) });
    }).flat();
  });
  parts.add(name, 'leaf', leaves(all), 1, FOLIAGE);
}

/** A date palm: a ringed stem with a lean, arched fronds of paired leaflets, dry ones below. */
export function datePalm(parts: Parts, name: string, x: number, y: number, z: number, height: number, seed: number): void {
  const next = randomStream(seed);
  const heading = next() * Math.PI * 2;
  const points = [0, 0.3, 0.65, 1].map((t) => new Vector3(x, y - 0.2 + (height + 0.2) * t, z).add(around(heading, 0, 0.5 * t * t)));
  const stem = limb(points, 0.21, 10);
  const position = stem.getAttribute('position');
  // Stumps of old fronds roughen the stem; it does not thin out as a limb does.
  const axes = new CatmullRomCurve3(points).getSpacedPoints(8);
  for (let i = 0; i < position.count; i++) {
    const t = Math.floor(i / 11) / 8;
    const axis = axes[Math.floor(i / 11)]!;
    const p = new Vector3().fromBufferAttribute(position, i).sub(axis);
    p.setLength(0.2 * (1 - 0.25 * t) * (i % 2 ? 1.08 : 0.95)).add(axis);
    position.setXYZ(i, p.x, p.y, p.z);
  }
  stem.computeVertexNormals();
  const top = points.at(-1)!;
  const ribs: BufferGeometry[] = [];
  const crown: Leaf[] = [];
  const [green, dry] = [new Color('#6f8a4c'), new Color('#b09a68')];
  for (let f = 0; f < 24; f++) {
    const turn = f * 2.4;
    const up = 1.25 - (f / 24) * 1.9;
    const length = height * 0.2 + 1.5 + 0.4 * next();
    const rib = [0, 0.35, 0.7, 1].map((t) =>
      top.clone().add(around(turn, length * (up * t - (0.75 + 0.2 * up) * t * t), length * t * (1 - 0.12 * Math.abs(up)))),
    );
    ribs.push(limb(rib, 0.03, 4));
    const line = new CatmullRomCurve3(rib);
    const places = line.getSpacedPoints(20);
    const own = (up < -0.3 ? dry : green).clone().multiplyScalar(0.8 + 0.4 * next());
    for (let k = 0; k < 18; k++) {
      const t = (k + 2) / 20;
      const at = places[k + 2]!;
      const ahead = line.getTangentAt(t);
      const side = new Vector3().crossVectors(ahead, new Vector3(0, 1, 0)).normalize();
      for (const s of [-1, 1]) {
        const along = ahead
          .clone()
          .multiplyScalar(0.75)
          .addScaledVector(side, s)
          .add(new Vector3(0, -0.3, 0))
          .setLength(0.62 * Math.sin(Math.PI * (0.18 + 0.78 * t)));
        const across = ahead
          .clone()
          .multiplyScalar(0.09)
          .addScaledVector(side, 0.012 * s);
        const normal = new Vector3(0, 1, 0)
          .addScaledVector(side, 0.35 * s)
          .addScaledVector(ahead, 0.2)
          .normalize();
        crown.push({ at, along, across, color: own.clone().multiplyScalar(0.9 + 0.2 * next()), normal });
      }
    }
  }
  parts.add(`${name} stem`, 'bark', [stem], 0.6);
  parts.add(`${name} ribs`, 'bark', ribs, 1, FOLIAGE);
  parts.add(`${name} leaves`, 'leaf', leaves(crown), 1, FOLIAGE);
}
