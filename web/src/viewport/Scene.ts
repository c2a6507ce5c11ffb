import * as three from "three";
import type { AlbedoHead, FollowedNumber, FormHead, LightHead, ViewHead, ViewportText } from "./assets";
import { ArrivingLight } from "./ArrivingLight";
import { turnedDirection } from "./lightTurn";
import type { Parts } from "./parts";
import { SeenTriangles } from "./SeenTriangles";
import { hierarchyText, Settling } from "./Settling";
import { drawnLight, filtered, meanOf, type DrawnLight } from "./textures";
import { WornLook } from "./WornLook";

/** How the scene is looked at. Degrees, null for the form's usual ones; zoom 1 shows the whole form; exposure in stops. */
export interface Sight {
  yaw: number | null;
  pitch: number | null;
  zoom: number;
  lightRotation: number;
  exposure: number;
  blurred: boolean;
  /** A part of the light alone; null for all of it. */
  layer: string | null;
  /** The UDIM tile shown everywhere; null for all in turn. */
  tile: number | null;
}

const precision =
  "precision highp float;\nprecision highp sampler2D;\nprecision highp int;\nprecision highp sampler2DArray;\nprecision highp sampler3D;\n";
const mostSuns = 5;
const shadowSide = 1024;
/** What of diffuse, mirrored and coat light each part of the light shows. */
const partsOfLight: Record<string, [number, number, number]> = {
  diffuse: [1, 0, 0],
  reflection: [0, 1, 0],
  coat: [0, 0, 1],
};

type Uniforms = Record<string, three.IUniform>;

/** A look, and the triangles that it lies on: from the first to before the second; null for all. */
export interface Worn {
  look: WornLook;
  range: [number, number] | null;
}

/** A look on a form, or looks on a model, under a light, drawn by the viewer's graphics processor. It knows nothing of the page. */
export class Scene {
  readonly renderer: three.WebGLRenderer;
  /** Programs that were compiled since it began; a change of value must not add one. */
  compilations = 0;
  frames = 0;

  private readonly scene = new three.Scene();
  private readonly camera = new three.PerspectiveCamera();
  private readonly light: three.WebGLRenderTarget;
  private readonly shadow: three.WebGLRenderTarget;
  private readonly shared: Uniforms;
  private worn: readonly Worn[] = [];
  private readonly floor: three.Mesh;
  private readonly background: three.Mesh;
  private readonly display: three.Mesh;
  private readonly shadows: three.Mesh;
  private geometry: three.BufferGeometry | null = null;
  private head: FormHead | null = null;
  private lit: LightHead | null = null;
  private lightParts: Parts<LightHead> | null = null;
  private gatheredAt = "";
  private readonly arriving: ArrivingLight;
  private readonly seen: SeenTriangles;
  private readonly settling = new Settling();
  private readonly paths: three.Mesh;
  private settled = {
    form: null as three.BufferGeometry | null,
    light: null as Parts<LightHead> | null,
    structure: "",
  };

  constructor(
    canvas: HTMLCanvasElement,
    context: WebGL2RenderingContext,
    private readonly texts: ViewportText,
  ) {
    // Light is kept in halves; without them there is nothing to draw into.
    if (!context.getExtension("EXT_color_buffer_float") && !context.getExtension("EXT_color_buffer_half_float"))
      throw new Error("This graphics processor keeps no light beyond white, so the server's pictures are shown.");
    this.renderer = new three.WebGLRenderer({ canvas, context, antialias: false });
    this.renderer.outputColorSpace = three.LinearSRGBColorSpace;
    this.renderer.autoClear = false;
    this.renderer.debug.onShaderError = (gl, _program, _vertex, fragment) => {
      throw new Error(`The graphics processor refuses this look's shader: ${gl.getShaderInfoLog(fragment) ?? ""}`);
    };
    this.light = new three.WebGLRenderTarget(8, 8, {
      type: three.HalfFloatType,
      colorSpace: three.NoColorSpace,
    });
    this.shadow = new three.WebGLRenderTarget(shadowSide, shadowSide, {
      type: three.FloatType,
      minFilter: three.NearestFilter,
      magFilter: three.NearestFilter,
    });
    this.shared = {
      uToScreen: { value: new three.Matrix4() },
      uEye: { value: new three.Vector3() },
      uSpread: { value: 0 },
      uForward: { value: new three.Vector3() },
      uRight: { value: new three.Vector3() },
      uUp: { value: new three.Vector3() },
      uBlurred: { value: false },
      uSharp: { value: null },
      uFiltered: { value: null },
      uAlbedo: { value: null },
      uShadow: { value: this.shadow.texture },
      uShadowMatrix: { value: new three.Matrix4() },
      uLightTurn: { value: new three.Vector2(0, 1) },
      uFloorRadiance: { value: new three.Vector3() },
      uFloorSize: { value: new three.Vector4(1, 1, 0, 0) },
      uSunDirection: { value: Array.from({ length: mostSuns }, () => new three.Vector4()) },
      uSunLight: { value: Array.from({ length: mostSuns }, () => new three.Vector3()) },
      uSuns: { value: 0 },
      uIsSheet: { value: false },
      uPart: { value: new three.Vector4(1, 1, 1, 0) },
      uShownTile: { value: 0 },
      uLight: { value: this.light.texture },
      uView: { value: null },
      uExposure: { value: 1 },
      uPlaces: { value: 1 },
      uStops: { value: new three.Vector2(-14, 10) },
    };
    const screen = new three.BufferGeometry();
    screen.setAttribute("position", new three.BufferAttribute(new Float32Array(9), 3));
    this.background = this.mesh(screen, this.material(texts.screenVertex, texts.background, { depthWrite: false }));
    this.display = this.mesh(
      screen,
      this.material(texts.screenVertex, texts.display, { depthTest: false, depthWrite: false }),
    );
    this.floor = this.mesh(
      floorGeometry(),
      this.material(texts.floorVertex, texts.floor, { transparent: true, depthWrite: false }),
    );
    this.shadows = this.mesh(screen, this.material(texts.floorVertex, texts.shadow, {}));
    this.paths = this.mesh(screen, new three.Material());
    this.background.renderOrder = 1;
    this.floor.renderOrder = 2;
    this.scene.add(this.background, this.floor);
    const precise = context.getExtension("EXT_color_buffer_float") !== null;
    this.arriving = new ArrivingLight(
      texts,
      precise ? three.FloatType : three.HalfFloatType,
      (fragment, more) =>
        this.material(
          texts.screenVertex,
          fragment,
          { depthTest: false, depthWrite: false, side: three.FrontSide },
          more,
        ),
      screen,
    );
    this.seen = new SeenTriangles(texts, (vertex, fragment, more) => this.material(vertex, fragment, {}, more));
    Object.assign(this.shared, this.arriving.uniforms, this.seen.uniforms);
    for (const { material } of [this.floor, this.background])
      Object.assign((material as three.RawShaderMaterial).uniforms, this.arriving.uniforms);
  }

  private mesh(geometry: three.BufferGeometry, material: three.Material): three.Mesh {
    const made = new three.Mesh(geometry, material);
    made.frustumCulled = false;
    return made;
  }

  private material(vertex: string, fragment: string, settings: three.MaterialParameters, more: Uniforms = {}) {
    this.compilations++;
    return new three.RawShaderMaterial({
      glslVersion: three.GLSL3,
      vertexShader: precision + vertex,
      fragmentShader: precision + fragment,
      uniforms: { ...this.shared, ...more },
      side: three.DoubleSide,
      ...settings,
    });
  }

  setForm(parts: Parts<FormHead>) {
    const { head, floats, ints } = parts;
    const geometry = new three.BufferGeometry();
    for (const [name, part, size] of [
      ["aPosition", "positions", 3],
      ["aNormal", "normals", 3],
      ["aTangent", "tangents", 4],
      ["aUv", "uvs", 2],
    ] as const)
      geometry.setAttribute(name, new three.BufferAttribute(floats(part), size));
    this.seen.setForm(parts);
    geometry.setIndex(new three.BufferAttribute(ints("indices"), 1));
    this.head = head;
    this.shared.uIsSheet.value = head.isSheet;
    this.arriving.setForm(parts);
    (this.shared.uFloorSize.value as three.Vector4).x = head.floorMetres;
    this.geometry?.dispose();
    this.geometry = geometry;
    this.shadows.geometry = geometry;
    this.gatheredAt = "";
  }

  /** The model's triangles in another order, three vertices each, so that those of a look lie together. */
  setOrder(indices: Uint32Array) {
    this.seen.setOrder(indices);
  }

  setLight(light: Parts<LightHead>) {
    const { head, halves } = light;
    this.lit = head;
    this.lightParts = light;
    for (const name of ["uSharp", "uFiltered"]) (this.shared[name].value as three.Texture | null)?.dispose();
    const sharp = new three.DataTexture(
      halves("sharp"),
      head.sharpWidth,
      head.sharpWidth / 2,
      three.RGBAFormat,
      three.HalfFloatType,
    );
    const lobes = new three.DataArrayTexture(
      halves("filtered"),
      head.filteredWidth,
      head.filteredWidth / 2,
      head.layers,
    );
    lobes.format = three.RGBAFormat;
    lobes.type = three.HalfFloatType;
    for (const picture of [sharp, lobes]) {
      filtered(picture);
      picture.wrapS = three.RepeatWrapping;
    }
    this.shared.uSharp.value = sharp;
    this.shared.uFiltered.value = lobes;
    (this.shared.uFloorRadiance.value as three.Vector3).fromArray(head.floorRadiance);
    (this.shared.uFloorSize.value as three.Vector4).y = head.hasFloor ? 1 : 0;
    this.floor.visible = head.hasFloor;
    this.gatheredAt = "";
  }

  setView({ head, bytes }: Parts<ViewHead>) {
    const [from, side] = [bytes("table"), head.side];
    const to = new Uint8Array(side * side * side * 4);
    for (let i = 0; i < side * side * side; i++) to.set([from[3 * i], from[3 * i + 1], from[3 * i + 2], 255], 4 * i);
    (this.shared.uView.value as three.Texture | null)?.dispose();
    const table = new three.Data3DTexture(to, side, side, side);
    this.shared.uView.value = filtered(table);
    (this.shared.uStops.value as three.Vector2).set(head.least, head.most);
  }

  setAlbedo({ head, floats }: Parts<AlbedoHead>) {
    (this.shared.uAlbedo.value as three.Texture | null)?.dispose();
    const table = new three.DataArrayTexture(
      Uint16Array.from(floats("albedo"), (v) => three.DataUtils.toHalfFloat(v)),
      head.side,
      head.side,
      head.count,
    );
    table.format = three.RedFormat;
    table.type = three.HalfFloatType;
    this.shared.uAlbedo.value = filtered(table);
  }

  /** The look that lies on all of the form, or looks on ranges of a model's triangles, in the order of those. */
  wear(worn: readonly Worn[]) {
    for (const each of this.worn) this.scene.remove(each.look.surface);
    this.worn = worn;
    for (const each of worn) {
      each.look.own.uRange.value = each.range ?? [0, 0];
      each.look.surface.geometry = this.paths.geometry;
      this.scene.add(each.look.surface);
    }
  }

  /** The maps of all that is worn. */
  get maps(): three.Texture[] {
    return this.worn.flatMap(({ look }) => look.maps);
  }

  /** The text of the look that is worn, or of the first of several. */
  get source(): string {
    return this.worn[0]?.look.source ?? "";
  }

  /** Numbers of the look that is worn, or of the first of several, that may be changed by name. */
  get parameters() {
    return this.worn[0]?.look.parameters ?? [];
  }

  /** How numbers of the look that is worn, or of the first of several, follow others. */
  get followed(): readonly FollowedNumber[] {
    return this.worn[0]?.look.followed ?? [];
  }

  /** A look to wear, drawn by this scene's light. */
  newLook(): WornLook {
    return new WornLook({
      renderer: this.renderer,
      material: (fragment, more) => this.material(this.texts.screenVertex, fragment + this.texts.form, {}, more),
      cut: (source, more) => this.seen.cut(source, more),
      compile: async (materials) => {
        const aside = new three.Scene();
        for (const each of materials) aside.add(this.mesh(this.paths.geometry, each));
        this.renderer.setRenderTarget(this.light);
        await this.renderer.compileAsync(aside, this.camera);
      },
    });
  }

  /** How numbers follow those of the look that have no name here; forgotten with the next look. */
  setFollowed(followed: readonly FollowedNumber[]) {
    this.worn[0]?.look.setFollowed(followed);
  }

  /** Numbers as they are while a control moves, by name; what the look says again with none. False where one has no place here. */
  setLive(live: Record<string, readonly number[]> | null): boolean {
    return this.worn[0]?.look.setLive(live) ?? live === null;
  }

  get canDraw() {
    return (
      this.worn.length > 0 &&
      this.worn.every(({ look }) => look.isReady) &&
      this.geometry !== null &&
      this.lit !== null &&
      this.shared.uView.value !== null &&
      this.shared.uAlbedo.value !== null
    );
  }

  /** @param fineness Times so many places in each direction a pixel is drawn at while something moves. */
  resize(width: number, height: number, fineness = 1) {
    const size = this.renderer.getSize(new three.Vector2());
    if (size.x !== width || size.y !== height) this.renderer.setSize(width, height, false);
    if (this.light.width !== width * fineness || this.light.height !== height * fineness)
      this.light.setSize(width * fineness, height * fineness);
  }

  private sight: Sight | null = null;

  /** The last frame once more, for who wants its pixels now. */
  redraw(): boolean {
    return this.sight !== null && this.draw(this.sight);
  }

  /** Shows once more what was shown last: paths where some were added up, or a frame. */
  private shown(): boolean {
    const { samples, sum } = this.settling;
    if (samples === 0 || !this.sight) return this.redraw();
    this.toScreen(sum, 2 ** this.sight.exposure / samples);
    return true;
  }

  /** The last frame as it is displayed: three bytes a pixel, rows from the top; null where nothing was drawn. */
  picture(): Uint8Array<ArrayBuffer> | null {
    if (!this.shown()) return null;
    const { x: width, y: height } = this.renderer.getSize(new three.Vector2());
    const gl = this.renderer.getContext();
    const pixels = new Uint8Array(4 * width * height);
    gl.readPixels(0, 0, width, height, gl.RGBA, gl.UNSIGNED_BYTE, pixels);
    const picture = new Uint8Array(3 * width * height);
    for (let y = 0; y < height; y++)
      for (let x = 0; x < width; x++) {
        const from = 4 * ((height - 1 - y) * width + x);
        picture.set(pixels.subarray(from, from + 3), 3 * (y * width + x));
      }
    return picture;
  }

  /** Draws one frame; false where something is still missing. */
  draw(sight: Sight): boolean {
    if (!this.canDraw || !this.head || !this.lit) return false;
    this.sight = sight;
    this.settling.reset();
    this.look(sight);
    this.turn(sight);
    this.gather(sight);
    const r = this.renderer;
    this.seen.draw(r, this.camera, this.light, this.worn);
    r.setRenderTarget(this.light);
    r.clear();
    r.render(this.scene, this.camera);
    this.toScreen(this.light, 2 ** sight.exposure);
    return true;
  }

  private toScreen(light: three.WebGLRenderTarget, exposure: number) {
    this.shared.uLight.value = light.texture;
    this.shared.uPlaces.value = Math.round(light.width / this.renderer.getSize(new three.Vector2()).x);
    this.shared.uExposure.value = exposure;
    this.renderer.setRenderTarget(null);
    this.renderer.render(this.display, this.camera);
    this.frames++;
  }

  /** Makes ready what follows paths of light over what was drawn last; the picture stays as it is meanwhile. */
  async prepareSettling() {
    const { geometry, lightParts, settled } = this;
    // Paths go from surface to surface by one look's text.
    if (!geometry || !lightParts || !this.canDraw || this.worn.length !== 1) return;
    const { source, structure, own, pictures } = this.worn[0].look;
    if (settled.form !== geometry) this.settling.setForm(geometry);
    if (settled.light !== lightParts) this.settling.setLight(lightParts.halves("sharp"), lightParts.head.sharpWidth);
    if (settled.structure !== structure) {
      const material = this.material(
        this.texts.screenVertex,
        hierarchyText + source + this.texts.trace,
        { depthTest: false, depthWrite: false },
        { ...own, ...pictures, ...this.settling.uniforms },
      );
      const aside = new three.Scene();
      aside.add(this.mesh(this.paths.geometry, material));
      await this.renderer.compileAsync(aside, this.camera);
      (this.paths.material as three.Material).dispose();
      this.paths.material = material;
    }
    Object.assign((this.paths.material as three.RawShaderMaterial).uniforms, own, pictures);
    this.settled = { form: geometry, light: lightParts, structure };
    this.settling.reset();
  }

  /** Adds a path of light to every pixel of what was drawn last, and shows the mean; how many there are, 0 where it is not ready. */
  settle(): number {
    const { settled, sight } = this;
    if (!sight || settled.structure !== this.worn[0]?.look.structure || settled.form !== this.geometry) return 0;
    const { x, y } = this.renderer.getSize(new three.Vector2());
    // A path is told the whole pixel.
    this.shared.uSpread.value = (2 * Math.tan((this.camera.fov * Math.PI) / 360)) / y;
    this.settling.add(this.renderer, this.paths, this.camera, x, y);
    this.toScreen(this.settling.sum, 2 ** sight.exposure / this.settling.samples);
    return this.settling.samples;
  }

  /** Light of the last frame at a place, from the left and from the top 0..1: the mean of a patch, linear in the working space. */
  read(u: number, v: number, patch: number): [number, number, number] {
    const places = Math.max(1, Math.round(this.light.width / this.renderer.getSize(new three.Vector2()).x));
    return meanOf(this.renderer, this.light, { u, v, patch: patch * places });
  }

  /** All of the last frame's light. */
  drawn(): DrawnLight {
    return drawnLight(this.renderer, this.light);
  }

  /** The same of what is shown: of the paths so far where they have taken the frame's place. */
  lightAt(u: number, v: number, patch: number): [number, number, number] {
    const { samples, sum } = this.settling;
    if (samples === 0) return this.read(u, v, patch);
    const [r, g, b] = meanOf(this.renderer, sum, { u, v, patch });
    return [r / samples, g / samples, b / samples];
  }

  private look(sight: Sight) {
    const { centre, radius, fieldOfView } = this.head!;
    const up = Math.min(89, Math.max(-89, sight.pitch ?? this.head!.pitch));
    const [yaw, pitch] = [sight.yaw ?? this.head!.yaw, up].map((d) => (d * Math.PI) / 180);
    const outward = new three.Vector3(
      Math.cos(pitch) * Math.sin(yaw),
      Math.sin(pitch),
      Math.cos(pitch) * Math.cos(yaw),
    );
    const half = (fieldOfView * Math.PI) / 360;
    const distance = (radius * 0.92) / Math.sin(half) / Math.min(50, Math.max(0.1, sight.zoom * this.head!.zoom));
    const { camera, shared } = this;
    const eye = shared.uEye.value as three.Vector3;
    eye.fromArray(centre).addScaledVector(outward, distance);
    camera.fov = fieldOfView;
    camera.aspect = this.light.width / this.light.height;
    camera.near = Math.max(0.01, distance - 8);
    camera.far = distance + 8;
    camera.position.copy(eye);
    camera.lookAt(centre[0], centre[1], centre[2]);
    camera.updateMatrixWorld();
    camera.updateProjectionMatrix();
    (shared.uToScreen.value as three.Matrix4).multiplyMatrices(camera.projectionMatrix, camera.matrixWorldInverse);
    // As finely as the proof reads maps where several places make a pixel: for half of its width.
    const { y } = this.renderer.getSize(new three.Vector2());
    shared.uSpread.value = (2 * Math.tan(half)) / y / Math.min(2, this.light.height / y);
    const forward = shared.uForward.value as three.Vector3;
    forward.copy(outward).negate();
    const right = shared.uRight.value as three.Vector3;
    right.crossVectors(forward, new three.Vector3(0, 1, 0)).normalize();
    (shared.uUp.value as three.Vector3).crossVectors(right, forward).multiplyScalar(Math.tan(half));
    right.multiplyScalar(Math.tan(half) * camera.aspect);
    shared.uBlurred.value = sight.blurred;
    shared.uShownTile.value = sight.tile ?? 0;
    const part = sight.layer ? (partsOfLight[sight.layer] ?? [1, 1, 1]) : [1, 1, 1];
    // A ray that goes through the body passes about so much of it.
    (shared.uPart.value as three.Vector4).set(part[0], part[1], part[2], radius * 0.5);
  }

  private turn(sight: Sight) {
    const angle = (sight.lightRotation * Math.PI) / 180;
    const { shared } = this;
    (shared.uLightTurn.value as three.Vector2).set(Math.sin(angle), Math.cos(angle));
    const suns = this.lit!.suns.slice(0, mostSuns);
    suns.forEach((sun, i) => {
      const [x, y, z] = turnedDirection(sun.direction, angle);
      (shared.uSunDirection.value as three.Vector4[])[i].set(x, y, z, sun.radius);
      (shared.uSunLight.value as three.Vector3[])[i].fromArray(sun.irradiance);
    });
    shared.uSuns.value = suns.length;
  }

  /** The first sun's shadow and the light that arrives at form and floor, made anew when light or form have moved. */
  private gather(sight: Sight) {
    const key = `${sight.lightRotation}`;
    if (this.gatheredAt === key || !this.head) return;
    this.gatheredAt = key;
    if (this.lit!.suns.length > 0) this.castShadow(this.head);
    this.arriving.gather(this.renderer);
    this.look(sight);
  }

  private castShadow({ centre, radius }: FormHead) {
    const towards = (this.shared.uSunDirection.value as three.Vector4[])[0];
    const camera = new three.OrthographicCamera(-radius, radius, radius, -radius, 0, 6 * radius);
    camera.position.fromArray(centre).addScaledVector(new three.Vector3(towards.x, towards.y, towards.z), 2 * radius);
    camera.lookAt(centre[0], centre[1], centre[2]);
    camera.updateMatrixWorld();
    camera.updateProjectionMatrix();
    const matrix = this.shared.uShadowMatrix.value as three.Matrix4;
    matrix.multiplyMatrices(camera.projectionMatrix, camera.matrixWorldInverse);
    (this.shared.uToScreen.value as three.Matrix4).copy(matrix);
    const r = this.renderer;
    r.setRenderTarget(this.shadow);
    r.setClearColor(0xffffff, 1);
    r.clear();
    r.setClearColor(0x000000, 1);
    r.render(this.shadows, camera);
  }

  dispose() {
    this.worn.forEach(({ look }) => look.dispose());
    this.settling.dispose();
    this.arriving.dispose();
    this.seen.dispose();
    for (const { value } of Object.values(this.shared)) if (value instanceof three.Texture) value.dispose();
    this.light.dispose();
    this.shadow.dispose();
    this.geometry?.dispose();
    this.renderer.dispose();
  }
}

/** The ground: a disc of 6 m. */
function floorGeometry(): three.BufferGeometry {
  const disc = new three.CircleGeometry(6, 64).rotateX(-Math.PI / 2);
  disc.setAttribute("aPosition", disc.getAttribute("position"));
  return disc;
}
