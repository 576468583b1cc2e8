import {
  BufferGeometry,
  ConeGeometry,
  DoubleSide,
  Group,
  Line,
  LineBasicMaterial,
  LineLoop,
  Mesh,
  MeshBasicMaterial,
  Vector3,
} from 'three';

import { towards } from './viewpoint';

const INK = 0x1b1b1b;
const ARC_POINTS = 48;
const ARC = Math.PI / 5; // to each side of the show side
const FOOT = 0.08; // of the height: what stands on the ground
const LEAST_FOOT = 0.15; // of the whole width
const MARK = 1.16; // radii of the arc at which the mark's tip lies

export interface ShownStation {
  azimuth: number;
  elevation: number;
}

export interface ShownGlow {
  at: [number, number, number];
  to: [number, number, number] | null;
  radius: number;
  flat: boolean;
}

/** What stands round a piece on its card: the mark of its show side, a nozzle, rings of glows. */
export class Furniture {
  readonly group = new Group();
  private readonly ink = new LineBasicMaterial({ color: INK });
  private readonly fill = new MeshBasicMaterial({ color: INK, side: DoubleSide });
  private readonly ground = new Group();
  private readonly pointer = new Group();
  private readonly glows = new Group();
  private wide = 40;
  private tall = 80;

  constructor() {
    this.group.add(this.ground, this.pointer, this.glows);
  }

  /** Stand round another piece; the tip of the mark, or nothing where none is drawn. */
  standRound(positions: Float32Array, marked: boolean): number[] {
    this.empty(this.ground);
    let [low, high, wide, foot] = [Infinity, -Infinity, 0, 0];
    for (let i = 2; i < positions.length; i += 3) {
      low = Math.min(low, positions[i]!);
      high = Math.max(high, positions[i]!);
    }
    for (let i = 0; i < positions.length; i += 3) {
      const r = Math.hypot(positions[i]!, positions[i + 1]!);
      wide = Math.max(wide, r);
      if (positions[i + 2]! < low + FOOT * (high - low)) foot = Math.max(foot, r);
    }
    this.wide = wide;
    this.tall = high - low;
    return marked ? this.markShowSide(Math.max(foot, LEAST_FOOT * wide) * 1.08, low) : [];
  }

  /** An arc before the show side with a tip; a whole ring would take room from the piece. */
  private markShowSide(radius: number, low: number): number[] {
    const points = Array.from({ length: ARC_POINTS }, (_, i) => {
      const t = ((2 * i) / (ARC_POINTS - 1) - 1) * ARC - Math.PI / 2;
      return new Vector3(Math.cos(t) * radius, Math.sin(t) * radius, low);
    });
    this.ground.add(new Line(new BufferGeometry().setFromPoints(points), this.ink));
    const mark = new BufferGeometry().setFromPoints([
      new Vector3(0, -radius * MARK, low),
      new Vector3(-radius * 0.07, -radius * 1.03, low),
      new Vector3(radius * 0.07, -radius * 1.03, low),
    ]);
    this.ground.add(new Mesh(mark, this.fill));
    return [0, -radius * MARK, low];
  }

  /** A small nozzle where the selected station stands. */
  showStation(station: ShownStation | null): void {
    this.empty(this.pointer);
    if (!station) return;
    const from = towards(station.azimuth, station.elevation);
    // just outside the piece, so that it is seen on every card
    const away = 1 / Math.hypot(Math.hypot(from.x, from.y) / this.wide, from.z / (this.tall / 2));
    const at = from.clone().multiplyScalar(away * 1.06 + 4);
    const cone = new Mesh(new ConeGeometry(1.5, 6, 20), this.fill);
    cone.quaternion.setFromUnitVectors(new Vector3(0, 1, 0), from.clone().negate());
    cone.position.copy(at);
    const line = new BufferGeometry().setFromPoints([at, from.multiplyScalar(away * 0.6)]);
    this.pointer.add(cone, new Line(line, this.ink));
  }

  /** Rings where near lights are; positions and radii in the piece's own units. */
  showGlows(glows: ShownGlow[]): void {
    this.empty(this.glows);
    for (const glow of glows) {
      const points = Array.from({ length: 32 }, (_, i) => {
        const t = (i / 32) * 2 * Math.PI;
        return new Vector3(Math.cos(t), Math.sin(t), 0).multiplyScalar(Math.max(glow.radius, 0.6));
      });
      for (const turn of glow.flat ? [0] : [0, Math.PI / 2]) {
        const ring = new LineLoop(new BufferGeometry().setFromPoints(points), this.ink);
        ring.position.set(...glow.at);
        ring.rotation.x = turn;
        ring.renderOrder = 2;
        this.glows.add(ring);
      }
      if (glow.to) {
        const ends = [new Vector3(...glow.at), new Vector3(...glow.to)];
        this.glows.add(new Line(new BufferGeometry().setFromPoints(ends), this.ink));
      }
    }
  }

  private empty(group: Group): void {
    for (const child of [...group.children]) {
      group.remove(child);
      if (child instanceof Mesh || child instanceof Line) child.geometry.dispose();
    }
  }

  dispose(): void {
    for (const group of [this.ground, this.pointer, this.glows]) this.empty(group);
    this.ink.dispose();
    this.fill.dispose();
  }
}
