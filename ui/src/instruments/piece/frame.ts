import { Matrix4, Vector3 } from 'three';

export type Point = [number, number, number];

/** Points of the mesh file in the piece's frame and back; rows as the server gives them. */
export class Frame {
  private readonly forward: Matrix4;
  private readonly back: Matrix4;

  constructor(rows: number[][]) {
    const [a, b, c] = rows as [number[], number[], number[]];
    this.forward = new Matrix4().set(
      ...([...a, ...b, ...c, 0, 0, 0, 1] as Parameters<Matrix4['set']>),
    );
    this.back = this.forward.clone().invert();
  }

  fromFile(at: readonly number[]): Point {
    return new Vector3(...(at as Point)).applyMatrix4(this.forward).toArray() as Point;
  }

  toFile(at: readonly number[]): Point {
    return new Vector3(...(at as Point)).applyMatrix4(this.back).toArray() as Point;
  }
}
