import type { Document, Material, Primitive } from '@gltf-transform/core';

export type Point = readonly [number, number, number];

/** Triangles that are put together to a mesh: flat-shaded unless normals are given, without second UVs. */
export class Shape {
  readonly positions: number[] = [];
  readonly normals: number[] = [];

  /** @param normals at the corners; that of the triangle where they are not given */
  triangle(a: Point, b: Point, c: Point, normals?: readonly [Point, Point, Point]): this {
    const [u, v] = [b, c].map((p) => [0, 1, 2].map((i) => p[i]! - a[i]!)) as [number[], number[]];
    const n = [u[1]! * v[2]! - u[2]! * v[1]!, u[2]! * v[0]! - u[0]! * v[2]!, u[0]! * v[1]! - u[1]! * v[0]!];
    const length = Math.hypot(...n);
    // One without area has some normal all the same.
    const flat = length > 0 ? n.map((x) => x / length) : [0, 1, 0];
    [a, b, c].forEach((p, k) => {
      this.positions.push(...p);
      this.normals.push(...(normals?.[k] ?? flat));
    });
    return this;
  }

  quad(a: Point, b: Point, c: Point, d: Point, normals?: readonly [Point, Point, Point, Point]): this {
    const of = (i: 0 | 1 | 2 | 3, j: 0 | 1 | 2 | 3, k: 0 | 1 | 2 | 3) => normals && ([normals[i], normals[j], normals[k]] as const);
    return this.triangle(a, b, c, of(0, 1, 2)).triangle(a, c, d, of(0, 2, 3));
  }

  /** A box from corner to corner, seen from outside. */
  box([x0, y0, z0]: Point, [x1, y1, z1]: Point): this {
    return this.quad([x0, y1, z0], [x0, y1, z1], [x1, y1, z1], [x1, y1, z0])
      .quad([x0, y0, z0], [x1, y0, z0], [x1, y0, z1], [x0, y0, z1])
      .quad([x0, y0, z1], [x1, y0, z1], [x1, y1, z1], [x0, y1, z1])
      .quad([x1, y0, z0], [x0, y0, z0], [x0, y1, z0], [x1, y1, z0])
      .quad([x0, y0, z0], [x0, y0, z1], [x0, y1, z1], [x0, y1, z0])
      .quad([x1, y0, z1], [x1, y0, z0], [x1, y1, z0], [x1, y1, z1]);
  }

  /** As a primitive of a document, in its first buffer. */
  primitive(document: Document, material: Material): Primitive {
    const buffer = document.getRoot().listBuffers()[0]!;
    const accessor = (numbers: number[]) => document.createAccessor().setType('VEC3').setArray(new Float32Array(numbers)).setBuffer(buffer);
    return document
      .createPrimitive()
      .setMaterial(material)
      .setAttribute('POSITION', accessor(this.positions))
      .setAttribute('NORMAL', accessor(this.normals));
  }
}
