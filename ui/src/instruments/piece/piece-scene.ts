import {
  BufferAttribute,
  BufferGeometry,
  ColorManagement,
  GLSL3,
  InterleavedBuffer,
  InterleavedBufferAttribute,
  LinearSRGBColorSpace,
  Mesh,
  OrthographicCamera,
  PlaneGeometry,
  Raycaster,
  Scene,
  ShaderMaterial,
  Vector2,
  Vector4,
  WebGLRenderer,
  WebGLRenderTarget,
  type Data3DTexture,
} from 'three';

import { MOST_TEXTURES, PATTERNS } from '@/craft.generated';

import { coarseCorners } from './coarse';
import type { Layout } from './colours';
import { outermost, type Insets } from './framing';
import { Furniture, type ShownGlow, type ShownStation } from './furniture';
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
import { HOME, type View } from './view';
import { aim, magnified, moved, turned } from './viewpoint';

// colours come and go encoded; the shader alone decides what is linear
ColorManagement.enabled = false;

const MOST_DRAG_PIXELS = 200_000;
// L* 55, the card every piece stands on
const CARD_GREY = 0x838383;
const COARSE_CELL = 1.3;
const SLOW_DRAW_MS = 20;
const SAMPLES = 4; // a pixel, when the piece rests
/** The piece on its card: holds everything three.js, knows nothing of Vue. */
export class PieceScene {
  readonly canvas: HTMLCanvasElement;
  private readonly sharp: number;
  private readonly renderer: WebGLRenderer;
  private readonly scene = new Scene();
  private readonly camera = new OrthographicCamera(-1, 1, 1, -1, 1, 1000);
  private readonly material: ShaderMaterial;
  private readonly furniture = new Furniture();
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
  private looked: View = HOME;
  private readonly screen = new Scene();
  private readonly screenCamera = new OrthographicCamera(-1, 1, 1, -1, 0, 1);
  private readonly copying: ShaderMaterial;
  private readonly moving: ShaderMaterial;
  private sampled: WebGLRenderTarget | null = null;
  width = 2;
  height = 2;
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
    this.scene.add(this.furniture.group);
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
    geometry.computeBoundingSphere();
    this.mesh = new Mesh(geometry, this.material);
    this.scene.add(this.mesh);
    const mark = this.furniture.standRound(piece.positions, furnished);
    this.points = Float32Array.from([...outermost(piece.positions), ...mark]);
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

  /** Let one part stand out from the others; null for none. */
  setStandingOut(part: number | null): void {
    this.material.uniforms.standsOut!.value = part ?? -1;
    this.draw();
  }

  /** Rings where near lights are. */
  showGlows(glows: ShownGlow[]): void {
    this.furniture.showGlows(glows);
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
    this.furniture.showStation(station);
    this.draw();
  }

  turn(across: number, up: number): void {
    this.look(turned(this.looked, across, up));
  }

  home(): void {
    this.look(HOME);
  }

  /** Nearer or farther; what lies under a point of the card (0..1 from its upper left) stays. */
  magnify(factor: number, x = 0.5, y = 0.5): void {
    this.look(magnified(this.looked, this, factor, x, y));
  }

  /** Move the piece on its card by pixels. */
  move(right: number, down: number): void {
    this.look(moved(this.looked, this, right, down));
  }

  private look(view: View): void {
    this.view = view;
    this.onView?.(view);
  }

  /** From where it is looked at now. */
  get view(): View {
    return this.looked;
  }

  /** Look at it as at another card; tells nobody. */
  set view(view: View) {
    this.looked = view;
    this.draw();
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
    const fit = Math.sqrt(MOST_DRAG_PIXELS / (this.width * this.height));
    this.renderer.setPixelRatio(this.coarse ? Math.min(this.sharp, fit) : this.sharp);
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
    aim(this.camera, this.points, this.looked, this, this.insets);
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
    this.furniture.dispose();
    this.material.dispose();
    this.grain?.dispose();
    this.sampled?.dispose();
    this.copying.dispose();
    this.moving.dispose();
    this.renderer.dispose();
  }
}
