import {
  BufferAttribute,
  BufferGeometry,
  ColorManagement,
  ConeGeometry,
  DoubleSide,
  GLSL3,
  Group,
  InterleavedBuffer,
  InterleavedBufferAttribute,
  Line,
  LineBasicMaterial,
  LineLoop,
  LinearSRGBColorSpace,
  Mesh,
  MeshBasicMaterial,
  OrthographicCamera,
  PlaneGeometry,
  Raycaster,
  Scene,
  ShaderMaterial,
  Vector2,
  Vector3,
  Vector4,
  WebGLRenderer,
  WebGLRenderTarget,
  type Data3DTexture,
} from 'three';

import { MOST_TEXTURES, PATTERNS } from '@/craft.generated';

import { coarseCorners } from './coarse';
import type { Layout } from './colours';
import { framed, outermost, type Insets } from './framing';
import type { PieceGeometry } from './geometry';
import { grainTexture } from './grain';
import {
  FRAGMENT,
  MOVING_FRAGMENT,
  MOVING_VERTEX,
  SCREEN_FRAGMENT,
  SCREEN_VERTEX,
  VERTEX,
} from './shaders';

// colours come and go encoded; the shader alone decides what is linear
ColorManagement.enabled = false;

const MOST_DRAG_PIXELS = 200_000;
// L* 55, the card every piece stands on
const CARD_GREY = 0x838383;
const COARSE_CELL = 1.3;
const SLOW_DRAW_MS = 20;
const ARC_POINTS = 48;
const ARC = Math.PI / 5; // to each side of the show side
const MARGIN = 1.06; // about the piece on its card
const SAMPLES = 4; // a pixel, when the piece rests
const HOME = { azimuth: 18, elevation: 12 };
const NEAREST = 12;
const FARTHEST = 0.6;

/** From where a piece is looked at, and how near: turned and moved alike on two cards. */
export interface View {
  azimuth: number;
  elevation: number;
  zoom: number;
  /** What the middle of the card looks at, as shares of its half height. */
  pan: [number, number];
}

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
  private readonly sharp: number;
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
  private gloss: BufferAttribute | null = null;
  private over: BufferAttribute[] = [];
  private textures = 0;
  private grain: Data3DTexture | null = null;
  private asking = false;
  private gone = false;
  private points: Float32Array = new Float32Array([-40, 0, -40, 40, 0, 40]);
  private insets: Insets = { top: 0, bottom: 0 };
  private azimuth = HOME.azimuth;
  private elevation = HOME.elevation;
  private zoom = 1;
  private pan: [number, number] = [0, 0];
  private half = 40;
  private wide = 40;
  private tall = 80;
  private readonly screen = new Scene();
  private readonly screenCamera = new OrthographicCamera(-1, 1, 1, -1, 0, 1);
  private readonly copying: ShaderMaterial;
  private readonly moving: ShaderMaterial;
  private sampled: WebGLRenderTarget | null = null;
  private width = 2;
  private height = 2;
  private coarse = false;
  private full: BufferAttribute | null = null;
  private fewer: BufferAttribute | null = null;
  private frame = 0;
  /** Told after each drawn frame, with the time of the event that led to it. */
  onDrawn: ((since: number) => void) | null = null;
  /** Told once there is grain to draw textures with. */
  onGrained: (() => void) | null = null;
  /** Told when it is turned, moved or brought nearer here. */
  onView: ((view: View) => void) | null = null;
  private since = 0;

  /** `sharp` is how many pixels are drawn for one of the page. */
  constructor(canvas: HTMLCanvasElement, sharp = Math.min(window.devicePixelRatio || 1, 2)) {
    this.canvas = canvas;
    this.sharp = sharp;
    this.renderer = new WebGLRenderer({
      canvas,
      antialias: false,
      alpha: false,
    });
    this.renderer.outputColorSpace = LinearSRGBColorSpace;
    this.renderer.setClearColor(CARD_GREY);
    this.material = new ShaderMaterial({
      glslVersion: GLSL3,
      vertexShader: VERTEX,
      fragmentShader: FRAGMENT,
      uniforms: {
        shading: { value: 1 },
        standsOut: { value: -1 },
        textures: { value: 0 },
        grained: { value: false },
        grain: { value: null },
        pattern: { value: Array.from({ length: MOST_TEXTURES }, () => new Vector4(0, 1, 1, 0.1)) },
        overMetal: { value: new Array(MOST_TEXTURES).fill(0) },
      },
    });
    const { shading, standsOut } = this.material.uniforms;
    this.moving = new ShaderMaterial({
      glslVersion: GLSL3,
      vertexShader: MOVING_VERTEX,
      fragmentShader: MOVING_FRAGMENT,
      uniforms: { shading: shading!, standsOut: standsOut! },
    });
    this.copying = new ShaderMaterial({
      glslVersion: GLSL3,
      vertexShader: SCREEN_VERTEX,
      fragmentShader: SCREEN_FRAGMENT,
      uniforms: { picture: { value: null } },
      depthTest: false,
      depthWrite: false,
    });
    this.screen.add(new Mesh(new PlaneGeometry(2, 2), this.copying));
    this.camera.up.set(0, 0, 1);
    this.scene.add(this.furniture, this.pointer, this.glows);
  }

  /** Take a piece; `furnished` is whether the arc before its show side is drawn. */
  setGeometry(piece: PieceGeometry, { furnished = true } = {}): void {
    this.clearPiece();
    const geometry = new BufferGeometry();
    geometry.setAttribute('position', new BufferAttribute(piece.positions, 3));
    const extra = new Uint8Array(piece.vertices * 4);
    for (let v = 0; v < piece.vertices; v += 1) {
      extra[4 * v] = piece.openness[v]!;
      extra[4 * v + 2] = piece.part[v]!;
    }
    this.gloss = new BufferAttribute(extra, 4, true);
    geometry.setAttribute('extra', this.gloss);
    const facing = new Int8Array(piece.vertices * 4);
    facing.set(piece.normals);
    geometry.setAttribute(
      'facing',
      new InterleavedBufferAttribute(new InterleavedBuffer(facing, 4), 3, 0, true),
    );
    this.tint = new BufferAttribute(new Uint8Array(piece.vertices * 4).fill(140), 4, true);
    geometry.setAttribute('tint', this.tint);
    this.over = Array.from({ length: MOST_TEXTURES }, (_, k) => {
      const attribute = new BufferAttribute(new Uint8Array(piece.vertices * 4), 4, true);
      geometry.setAttribute(`over${k}`, attribute);
      return attribute;
    });
    this.setTextures([]);
    this.full = new BufferAttribute(piece.corners, 1);
    geometry.setIndex(this.full);
    geometry.computeBoundingBox();
    geometry.computeBoundingSphere();
    this.mesh = new Mesh(geometry, this.material);
    this.scene.add(this.mesh);
    this.furnish(geometry, furnished);
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

  /** Colours and all that follows them, as the server told what the bytes hold. */
  setColours(bytes: Uint8Array, layout: Layout, shaded: boolean, since = 0): boolean {
    const tint = this.tint?.array as Uint8Array | undefined;
    if (!this.tint || !this.gloss || !tint) return false;
    const vertices = tint.length / 4;
    const each = 3 + Number(layout.metal) + Number(layout.gloss) + 4 * layout.textures.length;
    if (bytes.length !== each * vertices) return false;
    let at = 3 * vertices;
    // four bytes a vertex: odd strides are slow to draw
    for (let v = 0, i = 0, j = 0; v < vertices; v += 1, i += 3, j += 4) {
      tint[j] = bytes[i]!;
      tint[j + 1] = bytes[i + 1]!;
      tint[j + 2] = bytes[i + 2]!;
      tint[j + 3] = layout.metal ? bytes[at + v]! : 0;
    }
    if (layout.metal) at += vertices;
    const extra = this.gloss.array as Uint8Array;
    for (let v = 0; v < vertices; v += 1) extra[4 * v + 1] = layout.gloss ? bytes[at + v]! : 0;
    if (layout.gloss) at += vertices;
    for (let k = 0; k < Math.min(layout.textures.length, MOST_TEXTURES); k += 1) {
      (this.over[k]!.array as Uint8Array).set(bytes.subarray(at, at + 4 * vertices));
      this.over[k]!.needsUpdate = true;
      at += 4 * vertices;
    }
    this.tint.needsUpdate = true;
    this.gloss.needsUpdate = true;
    this.setTextures(layout.textures);
    if (layout.metal || this.textures) void this.takeGrain();
    this.material.uniforms.shading!.value = shaded ? 1 : 0;
    if (since) this.since = since;
    this.draw();
    return true;
  }

  /** Grain for textures and flake; until it is there, both are drawn by their mean. */
  private async takeGrain(): Promise<void> {
    if (this.grain || this.asking) return;
    this.asking = true;
    const texture = await grainTexture().catch(() => null);
    if (!texture || this.gone) return texture?.dispose();
    this.grain = texture;
    this.material.uniforms.grain!.value = texture;
    this.material.uniforms.grained!.value = true;
    this.draw();
    this.onGrained?.();
  }

  private setTextures(told: Layout['textures']): void {
    this.textures = Math.min(told.length, MOST_TEXTURES);
    const { textures, pattern, overMetal } = this.material.uniforms;
    textures!.value = this.textures;
    told.slice(0, MOST_TEXTURES).forEach((one, k) => {
      const which = PATTERNS.indexOf(one.pattern);
      pattern!.value[k].set(which, one.size > 0 ? 1 / one.size : 1, one.long, one.soft);
      overMetal!.value[k] = one.metal;
    });
  }

  /** The arc on the ground with its mark at the show side. */
  private furnish(geometry: BufferGeometry, shown: boolean): void {
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
    const before = [0, -1.26 * Math.max(foot, 0.15 * all), box.min.z];
    this.points = Float32Array.from([...outermost(positions), ...(shown ? before : [])]);
    if (!shown) return;
    const ringRadius = Math.max(foot, 0.15 * all) * 1.08;
    // an arc before the show side; a whole ring would take room from the piece
    const points = Array.from({ length: ARC_POINTS }, (_, i) => {
      const t = ((2 * i) / (ARC_POINTS - 1) - 1) * ARC - Math.PI / 2;
      return new Vector3(Math.cos(t) * ringRadius, Math.sin(t) * ringRadius, box.min.z);
    });
    this.furniture.add(new Line(new BufferGeometry().setFromPoints(points), this.ink));
    const mark = new BufferGeometry().setFromPoints([
      new Vector3(0, -ringRadius * 1.16, box.min.z),
      new Vector3(-ringRadius * 0.07, -ringRadius * 1.03, box.min.z),
      new Vector3(ringRadius * 0.07, -ringRadius * 1.03, box.min.z),
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
    this.viewed();
  }

  home(): void {
    this.azimuth = HOME.azimuth;
    this.elevation = HOME.elevation;
    this.zoom = 1;
    this.pan = [0, 0];
    this.viewed();
  }

  /** From where it is looked at now. */
  get view(): View {
    const { azimuth, elevation, zoom } = this;
    return { azimuth, elevation, zoom, pan: [...this.pan] };
  }

  /** Look at it as at another card; tells nobody. */
  set view(view: View) {
    this.azimuth = view.azimuth;
    this.elevation = view.elevation;
    this.zoom = view.zoom;
    this.pan = [...view.pan];
    this.draw();
  }

  private viewed(): void {
    this.draw();
    this.onView?.(this.view);
  }

  /** Nearer or farther; what lies under a point of the card (0..1 from its upper left) stays. */
  magnify(factor: number, x = 0.5, y = 0.5): void {
    const before = this.zoom;
    this.zoom = Math.min(NEAREST, Math.max(FARTHEST, before * factor));
    const [right, up] = [(2 * x - 1) * (this.width / this.height), 1 - 2 * y];
    const gone = 1 / before - 1 / this.zoom;
    this.pan = [this.pan[0] + right * gone, this.pan[1] + up * gone];
    this.keepInSight();
    this.viewed();
  }

  /** Move the piece on its card by pixels. */
  move(right: number, down: number): void {
    const share = 2 / (this.height * this.zoom);
    this.pan = [this.pan[0] - right * share, this.pan[1] + down * share];
    this.keepInSight();
    this.viewed();
  }

  private keepInSight(): void {
    const aspect = this.width / this.height;
    this.pan[0] = Math.min(aspect, Math.max(-aspect, this.pan[0]));
    this.pan[1] = Math.min(1, Math.max(-1, this.pan[1]));
    if (this.zoom <= 1) this.pan = [0, 0];
  }

  /** What of the card is taken by words over it. */
  setInsets(insets: Insets): void {
    this.insets = insets;
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
    const full = this.sharp;
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

  private aim(): void {
    const { azimuth, elevation, width, height } = this;
    const frame = framed(
      this.points,
      { azimuth, elevation },
      { width, height },
      this.insets,
      MARGIN,
    );
    const e = (elevation * Math.PI) / 180;
    const a = (azimuth * Math.PI) / 180;
    const right = new Vector3(Math.cos(a), -Math.sin(a), 0);
    const up = new Vector3(Math.sin(a) * Math.sin(e), Math.cos(a) * Math.sin(e), Math.cos(e));
    this.half = frame.half / this.zoom;
    const aspect = width / height;
    const at = right
      .multiplyScalar(frame.x + this.pan[0] * frame.half)
      .add(up.multiplyScalar(frame.y + this.pan[1] * frame.half));
    this.camera.position.copy(towards(azimuth, elevation).multiplyScalar(400).add(at));
    this.camera.lookAt(at);
    this.camera.left = -this.half * aspect;
    this.camera.right = this.half * aspect;
    this.camera.top = this.half;
    this.camera.bottom = -this.half;
    this.camera.updateProjectionMatrix();
  }

  private drawNow(): void {
    this.aim();
    if (this.mesh) this.mesh.material = this.coarse ? this.moving : this.material;
    if (this.coarse) {
      this.renderer.render(this.scene, this.camera);
      return;
    }
    // smooth edges cost too much while something moves
    const size = this.renderer.getDrawingBufferSize(new Vector2());
    if (this.sampled?.width !== size.x || this.sampled.height !== size.y) {
      this.sampled?.dispose();
      this.sampled = new WebGLRenderTarget(size.x, size.y, { samples: SAMPLES });
      this.copying.uniforms.picture!.value = this.sampled.texture;
    }
    this.renderer.setRenderTarget(this.sampled);
    this.renderer.render(this.scene, this.camera);
    this.renderer.setRenderTarget(null);
    this.renderer.render(this.screen, this.screenCamera);
  }

  /** Draw the card as it stands on another canvas. */
  drawOn(pen: CanvasRenderingContext2D): void {
    cancelAnimationFrame(this.frame);
    this.frame = 0;
    this.drawNow();
    pen.drawImage(this.canvas, 0, 0, pen.canvas.width, pen.canvas.height);
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
    this.gloss = null;
    this.over = [];
    this.full = null;
    this.fewer = null;
  }

  dispose(): void {
    this.gone = true;
    cancelAnimationFrame(this.frame);
    this.clearPiece();
    this.empty(this.furniture);
    this.empty(this.pointer);
    this.empty(this.glows);
    this.material.dispose();
    this.grain?.dispose();
    this.sampled?.dispose();
    this.copying.dispose();
    this.moving.dispose();
    this.ink.dispose();
    this.fill.dispose();
    this.renderer.dispose();
  }
}
