import {
  BufferAttribute,
  BufferGeometry,
  ConeGeometry,
  DoubleSide,
  Group,
  InterleavedBuffer,
  InterleavedBufferAttribute,
  Line,
  LineBasicMaterial,
  LineLoop,
  Mesh,
  MeshBasicMaterial,
  OrthographicCamera,
  Raycaster,
  Scene,
  ShaderMaterial,
  Vector2,
  Vector3,
  WebGLRenderer,
} from 'three';

import { coarseCorners } from './coarse';
import type { PieceGeometry } from './geometry';

// Colours stay encoded from byte to screen: between neighbours they are so close that blending them
// encoded or linear looks the same, and the shade is brought to the encoded scale once, on arrival.
const VERTEX = /* glsl */ `
attribute vec4 tint;
attribute float shade;
attribute float part;
attribute vec3 facing;
varying vec3 vTint;
uniform float shading;
uniform float standsOut;
void main() {
  float rest = standsOut < 0.0 || abs(part - standsOut) < 0.5 ? 1.0 : 0.45;
  // metal sends back a fixed room: bright above, a dark band at eye level, a glint toward the lamp
  vec3 n = normalize((modelViewMatrix * vec4(facing, 0.0)).xyz);
  float sky = smoothstep(-0.35, 0.75, n.y) * 0.75 + 0.42;
  float glint = pow(max(dot(n, normalize(vec3(-0.45, 0.62, 0.64))), 0.0), 14.0) * 0.55;
  float room = mix(1.0, sky + glint, tint.a * shading);
  vTint = tint.rgb * mix(1.0, shade, shading) * room * rest;
  gl_Position = projectionMatrix * modelViewMatrix * vec4(position, 1.0);
}`;

const FRAGMENT = /* glsl */ `
varying vec3 vTint;
void main() {
  gl_FragColor = vec4(vTint, 1.0);
}`;

/** One fixed ambient shade of linear light, as a factor on encoded bytes. */
const SHADE = Float32Array.from({ length: 256 }, (_, i) => (0.7 + (0.3 * i) / 255) ** (1 / 2.4));

const MOST_DRAG_PIXELS = 200_000;
// L* 55, the card every piece stands on; three.js takes it as sRGB
const CARD_GREY = 0x838383;
const COARSE_CELL = 1.3;
const SLOW_DRAW_MS = 20;
const RING_POINTS = 96;
const MARGIN = 1.07; // about the piece on its card
const HOME = { azimuth: 18, elevation: 12 };

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

function towards(azimuth: number, elevation: number): Vector3 {
  const a = (azimuth * Math.PI) / 180;
  const e = (elevation * Math.PI) / 180;
  return new Vector3(-Math.sin(a) * Math.cos(e), -Math.cos(a) * Math.cos(e), Math.sin(e));
}

/** The piece on its card: holds everything three.js, knows nothing of Vue. */
export class PieceScene {
  readonly canvas: HTMLCanvasElement;
  private readonly renderer: WebGLRenderer;
  private readonly scene = new Scene();
  private readonly camera = new OrthographicCamera(-1, 1, 1, -1, 1, 1000);
  private readonly material: ShaderMaterial;
  private readonly furniture = new Group();
  private readonly ink = new LineBasicMaterial({ color: 0x1b1b1b });
  private readonly fill = new MeshBasicMaterial({ color: 0x1b1b1b, side: DoubleSide });
  private readonly pointer = new Group();
  private readonly glows = new Group();
  private mesh: Mesh<BufferGeometry, ShaderMaterial> | null = null;
  private tint: BufferAttribute | null = null;
  private azimuth = HOME.azimuth;
  private elevation = HOME.elevation;
  private zoom = 1;
  private wide = 40;
  private tall = 80;
  private width = 2;
  private height = 2;
  private coarse = false;
  private full: BufferAttribute | null = null;
  private fewer: BufferAttribute | null = null;
  private frame = 0;
  /** Told after each drawn frame, with the time of the event that led to it. */
  onDrawn: ((since: number) => void) | null = null;
  private since = 0;

  constructor(canvas: HTMLCanvasElement) {
    this.canvas = canvas;
    this.renderer = new WebGLRenderer({
      canvas,
      antialias: false,
      alpha: false,
    });
    this.renderer.setClearColor(CARD_GREY);
    this.material = new ShaderMaterial({
      vertexShader: VERTEX,
      fragmentShader: FRAGMENT,
      uniforms: { shading: { value: 1 }, standsOut: { value: -1 } },
    });
    this.camera.up.set(0, 0, 1);
    this.scene.add(this.furniture, this.pointer, this.glows);
  }

  setGeometry(piece: PieceGeometry): void {
    this.clearPiece();
    const geometry = new BufferGeometry();
    geometry.setAttribute('position', new BufferAttribute(piece.positions, 3));
    const shade = Float32Array.from(piece.openness, (o) => SHADE[o]!);
    geometry.setAttribute('shade', new BufferAttribute(shade, 1));
    geometry.setAttribute('part', new BufferAttribute(Float32Array.from(piece.part), 1));
    const facing = new Int8Array(piece.vertices * 4);
    facing.set(piece.normals);
    geometry.setAttribute(
      'facing',
      new InterleavedBufferAttribute(new InterleavedBuffer(facing, 4), 3, 0, true),
    );
    this.tint = new BufferAttribute(new Uint8Array(piece.vertices * 4).fill(140), 4, true);
    geometry.setAttribute('tint', this.tint);
    this.full = new BufferAttribute(piece.corners, 1);
    geometry.setIndex(this.full);
    geometry.computeBoundingBox();
    geometry.computeBoundingSphere();
    this.mesh = new Mesh(geometry, this.material);
    this.scene.add(this.mesh);
    this.furnish(geometry);
    this.fewer = this.drawsSlowly()
      ? new BufferAttribute(coarseCorners(piece.positions, piece.corners, COARSE_CELL), 1)
      : null;
    this.draw();
  }

  /** Whether this machine needs long for the whole piece: software drawing, mostly. */
  private drawsSlowly(): boolean {
    const timed = (): number => {
      const begun = performance.now();
      this.drawNow();
      this.waitForDrawing();
      return performance.now() - begun;
    };
    timed(); // the first one also compiles and uploads
    return timed() > SLOW_DRAW_MS;
  }

  /** Reading back is the only way to wait for what was asked to be drawn. */
  private waitForDrawing(): void {
    const gl = this.renderer.getContext();
    gl.readPixels(0, 0, 1, 1, gl.RGBA, gl.UNSIGNED_BYTE, new Uint8Array(4));
  }

  /**
   * Colours per vertex, three bytes each, in the order of the geometry; where there is metal, one
   * more byte a vertex follows them all.
   */
  setColours(bytes: Uint8Array, shaded: boolean, since = 0): boolean {
    const tint = this.tint?.array as Uint8Array | undefined;
    if (!this.tint || !tint) return false;
    const vertices = tint.length / 4;
    const metal = bytes.length === tint.length;
    if (!metal && bytes.length !== 3 * vertices) return false;
    // four bytes a vertex: odd strides are slow to draw
    for (let v = 0, i = 0, j = 0; v < vertices; v += 1, i += 3, j += 4) {
      tint[j] = bytes[i]!;
      tint[j + 1] = bytes[i + 1]!;
      tint[j + 2] = bytes[i + 2]!;
      tint[j + 3] = metal ? bytes[3 * vertices + v]! : 0;
    }
    this.tint.needsUpdate = true;
    this.material.uniforms.shading!.value = shaded ? 1 : 0;
    if (since) this.since = since;
    this.draw();
    return true;
  }

  /** The ring on the ground with its mark at the show side. */
  private furnish(geometry: BufferGeometry): void {
    this.empty(this.furniture);
    const box = geometry.boundingBox!;
    const positions = geometry.getAttribute('position').array as Float32Array;
    const tall = box.max.z - box.min.z;
    let all = 0;
    let foot = 0;
    for (let i = 0; i < positions.length; i += 3) {
      const r = Math.hypot(positions[i]!, positions[i + 1]!);
      all = Math.max(all, r);
      if (positions[i + 2]! < box.min.z + 0.08 * tall) foot = Math.max(foot, r);
    }
    this.wide = all;
    this.tall = tall;
    const ringRadius = Math.max(foot, 0.15 * all) * 1.08;
    const points = Array.from({ length: RING_POINTS }, (_, i) => {
      const t = (i / RING_POINTS) * 2 * Math.PI;
      return new Vector3(Math.cos(t) * ringRadius, Math.sin(t) * ringRadius, box.min.z);
    });
    this.furniture.add(new LineLoop(new BufferGeometry().setFromPoints(points), this.ink));
    const mark = new BufferGeometry().setFromPoints([
      new Vector3(0, -ringRadius * 1.34, box.min.z),
      new Vector3(-ringRadius * 0.08, -ringRadius * 1.06, box.min.z),
      new Vector3(ringRadius * 0.08, -ringRadius * 1.06, box.min.z),
    ]);
    this.furniture.add(new Mesh(mark, this.fill));
  }

  /** Let one part stand out from the others; null for none. */
  setStandingOut(part: number | null): void {
    this.material.uniforms.standsOut!.value = part ?? -1;
    this.draw();
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
    this.draw();
  }

  /** Where a point of the canvas (0..1 from its upper left) lies on the piece; null beside it. */
  pick(x: number, y: number): [number, number, number] | null {
    if (!this.mesh) return null;
    const caster = new Raycaster();
    this.camera.updateMatrixWorld();
    caster.setFromCamera(new Vector2(2 * x - 1, 1 - 2 * y), this.camera);
    const [hit] = caster.intersectObject(this.mesh, false);
    return hit ? [hit.point.x, hit.point.y, hit.point.z] : null;
  }

  /** A small nozzle where the selected station stands. */
  showStation(station: ShownStation | null): void {
    this.empty(this.pointer);
    if (station) {
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
    this.draw();
  }

  turn(azimuth: number, elevation: number): void {
    this.azimuth = (this.azimuth + azimuth + 360) % 360;
    this.elevation = Math.min(89, Math.max(-89, this.elevation + elevation));
    this.draw();
  }

  home(): void {
    this.azimuth = HOME.azimuth;
    this.elevation = HOME.elevation;
    this.zoom = 1;
    this.draw();
  }

  /** From which azimuth [°] the piece is looked at. */
  get lookedAtFrom(): number {
    return this.azimuth;
  }

  magnify(factor: number): void {
    this.zoom = Math.min(8, Math.max(0.5, this.zoom * factor));
    this.draw();
  }

  resize(width: number, height: number): void {
    this.width = Math.max(2, width);
    this.height = Math.max(2, height);
    this.applySize();
  }

  /** Fewer pixels while something moves, all of them when it rests. */
  setCoarse(coarse: boolean): void {
    if (this.coarse === coarse) return;
    this.coarse = coarse;
    if (this.fewer && this.full) this.mesh?.geometry.setIndex(coarse ? this.fewer : this.full);
    this.applySize();
  }

  private applySize(): void {
    const full = Math.min(window.devicePixelRatio || 1, 2) * 1.25;
    const fit = Math.sqrt(MOST_DRAG_PIXELS / (this.width * this.height));
    this.renderer.setPixelRatio(this.coarse ? Math.min(full, fit) : full);
    this.renderer.setSize(this.width, this.height, false);
    this.draw();
  }

  draw(): void {
    if (this.frame) return;
    this.frame = requestAnimationFrame(() => {
      this.frame = 0;
      this.drawNow();
      if (this.since) {
        const since = this.since;
        this.since = 0;
        this.waitForDrawing();
        this.onDrawn?.(since);
      }
    });
  }

  private drawNow(): void {
    const from = towards(this.azimuth, this.elevation).multiplyScalar(400);
    this.camera.position.copy(from);
    this.camera.lookAt(0, 0, 0);
    // as large as lets it turn about without leaving the card
    const e = (this.elevation * Math.PI) / 180;
    const upright = (this.tall / 2) * Math.cos(e) + this.wide * Math.abs(Math.sin(e));
    const aspect = this.width / this.height;
    const h = (Math.max(upright, this.wide / aspect) * MARGIN) / this.zoom;
    const w = h * aspect;
    this.camera.left = -w;
    this.camera.right = w;
    this.camera.top = h;
    this.camera.bottom = -h;
    this.camera.updateProjectionMatrix();
    this.renderer.render(this.scene, this.camera);
  }

  private empty(group: Group): void {
    for (const child of [...group.children]) {
      group.remove(child);
      if (child instanceof Mesh || child instanceof Line) child.geometry.dispose();
    }
  }

  private clearPiece(): void {
    if (!this.mesh) return;
    this.scene.remove(this.mesh);
    this.mesh.geometry.dispose();
    this.mesh = null;
    this.tint = null;
    this.full = null;
    this.fewer = null;
  }

  dispose(): void {
    cancelAnimationFrame(this.frame);
    this.clearPiece();
    this.empty(this.furniture);
    this.empty(this.pointer);
    this.empty(this.glows);
    this.material.dispose();
    this.ink.dispose();
    this.fill.dispose();
    this.renderer.dispose();
  }
}
