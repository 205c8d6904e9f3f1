import { Document, type Material } from '@gltf-transform/core';
import { levelIo } from '../../core/level';
import { Shape, type Point } from './shape';

export interface PostsLevelOptions {
  /** Equal posts, each turned another way. */
  posts: number;
  /** Objects in all, the ground included. */
  objects: number;
}

/** Numbers 0..1 that look like chance. */
const chance = (i: number) => (Math.imul(i ^ (i >>> 3), 0x9e3779b1) >>> 8) / 2 ** 24;

/** Where the post of that number stands: in two rows along a street. */
export const postAt = (i: number): Point => [(i >> 1) * 6 - 57, 0, i % 2 === 0 ? -4 : 4];

/** A post with an arm, which no turn makes like itself. */
const post = (): Shape =>
  new Shape()
    .box([-0.15, 0, -0.15], [0.15, 0.3, 0.15])
    .box([-0.06, 0.3, -0.06], [0.06, 3.4, 0.06])
    .box([-0.04, 3.2, -0.9], [0.04, 3.3, -0.06])
    .box([-0.12, 3.0, -1.0], [0.12, 3.2, -0.76]);

const hut = (): Shape => new Shape().box([-1.6, 0, -1.2], [1.6, 2.1, 1.2]).box([-1.8, 2.1, -1.4], [1.8, 2.3, 1.4]);
const jar = (): Shape => new Shape().box([-0.2, 0, -0.2], [0.2, 0.5, 0.2]).box([-0.1, 0.5, -0.1], [0.1, 0.65, 0.1]);

/**
 * A street as a binary glTF without second UVs: equal posts along both sides, behind them rows of huts, and jars as many as there are to be
 * objects. Huts and jars lie under nodes of their own.
 */
export async function postsLevel({ posts, objects }: PostsLevelOptions): Promise<Uint8Array> {
  const document = new Document();
  document.createBuffer();
  const scene = document.createScene();
  const paint = (name: string, r: number, g: number, b: number) => document.createMaterial(name).setBaseColorFactor([r, g, b, 1]);
  const mesh = (name: string, shape: Shape, material: Material) =>
    document.createMesh(name).addPrimitive(shape.primitive(document, material));
  const kinds = {
    post: mesh('Post', post(), paint('Iron', 0.22, 0.24, 0.25)),
    hut: mesh('Hut', hut(), paint('Plaster', 0.58, 0.5, 0.4)),
    jar: mesh('Jar', jar(), paint('Clay', 0.5, 0.24, 0.14)),
  };
  const groups = { huts: document.createNode('Huts'), jars: document.createNode('Jars') };
  const ground = mesh('Ground', new Shape().quad([-70, 0, -40], [-70, 0, 40], [70, 0, 40], [70, 0, -40]), paint('Sand', 0.5, 0.44, 0.34));
  scene.addChild(document.createNode('Ground').setMesh(ground)).addChild(groups.huts).addChild(groups.jars);
  const node = (name: string, kind: keyof typeof kinds, at: Point, turn: number) =>
    document
      .createNode(name)
      .setMesh(kinds[kind])
      .setTranslation([...at])
      .setRotation([0, Math.sin(turn / 2), 0, Math.cos(turn / 2)]);
  // Arms reach over the street.
  for (let i = 0; i < posts; i++) scene.addChild(node(`Post ${i + 1}`, 'post', postAt(i), i % 2 === 0 ? Math.PI : 0));
  const huts = Math.min(60, objects - posts - 1);
  for (let i = 0; i < huts; i++) {
    const row = i % 4;
    groups.huts.addChild(node(`Hut ${i + 1}`, 'hut', [(i >> 2) * 7.5 - 55, 0, [-11, 11, -18, 18][row]!], (i % 3) * 0.3));
  }
  for (let i = 0; i < objects - posts - huts - 1; i++) {
    const [x, z] = [chance(i) * 120 - 60, 22 + chance(i + 5000) * 14];
    groups.jars.addChild(node(`Jar ${i + 1}`, 'jar', [x, 0, i % 2 === 0 ? z : -z], chance(i + 9000) * 6));
  }
  return (await levelIo()).writeBinary(document);
}
