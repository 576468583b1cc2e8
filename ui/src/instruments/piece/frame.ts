export type Point = [number, number, number];

/** Points of the mesh file in the piece's frame and back; rows as the server gives them. */
export class Frame {
  private readonly turn: Point[];
  private readonly back: Point[];
  private readonly shift: Point;

  constructor(rows: number[][]) {
    this.turn = rows.map(([x, y, z]) => [x, y, z] as Point);
    this.shift = rows.map((row) => row[3]) as Point;
    this.back = inverse(this.turn);
  }

  fromFile(at: readonly number[]): Point {
    return times(this.turn, at).map((v, i) => v + this.shift[i]!) as Point;
  }

  toFile(at: readonly number[]): Point {
    return times(
      this.back,
      at.map((v, i) => v - this.shift[i]!),
    );
  }
}

function times(rows: Point[], at: readonly number[]): Point {
  return rows.map((row) => dot(row, at)) as Point;
}

/** Of three rows: the cross products of two each, over the determinant, as columns. */
function inverse([a, b, c]: Point[]): Point[] {
  const columns = [cross(b!, c!), cross(c!, a!), cross(a!, b!)];
  const whole = dot(a!, columns[0]!);
  return [0, 1, 2].map((i) => columns.map((column) => column[i]! / whole) as Point);
}

function dot(a: readonly number[], b: readonly number[]): number {
  return a[0]! * b[0]! + a[1]! * b[1]! + a[2]! * b[2]!;
}

function cross(a: Point, b: Point): Point {
  return [a[1] * b[2] - a[2] * b[1], a[2] * b[0] - a[0] * b[2], a[0] * b[1] - a[1] * b[0]];
}
