import * as three from "three";
import { smallSize } from "./assets";
import type { AlbedoHead, FormHead, LightHead, ViewHead, ViewportLook, ViewportText } from "./assets";
import { turnedDirection, turnedHarmonics } from "./lightTurn";
import type { Parts } from "./parts";
import { hierarchyText, Settling } from "./Settling";

/** How the scene is looked at. Degrees; zoom 1 shows the whole form; exposure in stops. */
export interface Sight {
  yaw: number;
  pitch: number;
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

/** A look on a form under a light, drawn by the viewer's graphics processor. It knows nothing of the page around it. */
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
  private own: Uniforms = { uNumbers: { value: [] }, uFromXyz: { value: new three.Matrix3() } };
  private readonly floor: three.Mesh;
  private readonly background: three.Mesh;
  private readonly display: three.Mesh;
  private readonly shadows: three.Mesh;
  private form: three.Mesh | null = null;
  private head: FormHead | null = null;
  private lit: LightHead | null = null;
  private lightParts: Parts<LightHead> | null = null;
  private structure = "";
  private shadowOf = "";
  private maps: three.Texture[] = [];
  private pictures: Uniforms = {};
  private source = "";
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
      samples: 4,
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
      uFloor: { value: null },
      uAlbedo: { value: null },
      uShadow: { value: this.shadow.texture },
      uShadowMatrix: { value: new three.Matrix4() },
      uLightTurn: { value: new three.Vector2(0, 1) },
      uHarmonics: { value: Array.from({ length: 9 }, () => new three.Vector3()) },
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

  setForm({ head, floats, ints }: Parts<FormHead>) {
    const geometry = new three.BufferGeometry();
    for (const [name, part, size] of [
      ["aPosition", "positions", 3],
      ["aNormal", "normals", 3],
      ["aTangent", "tangents", 4],
      ["aUv", "uvs", 2],
    ] as const)
      geometry.setAttribute(name, new three.BufferAttribute(floats(part), size));
    const sees = new three.InterleavedBuffer(floats("sees"), 19);
    for (let i = 0; i < 5; i++)
      geometry.setAttribute(`aSees${i}`, new three.InterleavedBufferAttribute(sees, i < 4 ? 4 : 3, 4 * i));
    geometry.setIndex(new three.BufferAttribute(ints("indices"), 1));
    this.head = head;
    this.shared.uIsSheet.value = head.isSheet;
    (this.shared.uFloor.value as three.Texture | null)?.dispose();
    const floor = new three.DataTexture(
      Uint8Array.from(floats("floor"), (v) => Math.round(v * 255)),
      head.floorSide,
      head.floorSide,
      three.RedFormat,
    );
    this.shared.uFloor.value = filtered(floor);
    (this.shared.uFloorSize.value as three.Vector4).x = head.floorMetres;
    if (this.form) {
      this.form.geometry.dispose();
      this.form.geometry = geometry;
    } else {
      this.form = this.mesh(geometry, new three.Material());
      this.form.visible = false;
      this.scene.add(this.form);
    }
    this.shadows.geometry = geometry;
    this.shadowOf = "";
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
    this.shadowOf = "";
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

  /** Another look, or the same with other values: a new shader only where the structure is another. */
  async setLook(look: ViewportLook & { source: string }, layers: ArrayBuffer[][], small: boolean) {
    if (layers.length > 0 || look.maps.length === 0) {
      this.maps.forEach((m) => m.dispose());
      this.maps = look.maps.map((array, i) => mapArray(array, layers[i], small, this.renderer));
    }
    const pictures: Uniforms = Object.fromEntries(this.maps.map((texture, i) => [`uMaps${i}`, { value: texture }]));
    this.pictures = pictures;
    this.source = look.source;
    if (look.structure === this.structure && this.form) {
      Object.assign((this.form.material as three.RawShaderMaterial).uniforms, pictures);
      this.setNumbers(look);
      return;
    }
    // The old shader is drawn by the old numbers until the new one is there.
    this.own = { uNumbers: { value: [] }, uFromXyz: { value: new three.Matrix3() } };
    this.setNumbers(look);
    const material = this.material(
      this.texts.formVertex,
      look.source + this.texts.form,
      { alphaToCoverage: !look.isOpaque },
      { ...this.own, ...pictures },
    );
    // The last picture stays until the new shader can be drawn.
    if (this.form) {
      const trial = this.mesh(this.form.geometry, material);
      const aside = new three.Scene();
      aside.add(trial);
      this.renderer.setRenderTarget(this.light);
      await this.renderer.compileAsync(aside, this.camera);
      (this.form.material as three.Material).dispose();
      this.form.material = material;
      this.form.visible = true;
    }
    this.structure = look.structure;
  }

  private numbers: number[] = [];
  private parameters: ViewportLook["parameters"] = [];

  /** Numbers as they are while a control moves, by name; what the look says again with none. False where one has no place here. */
  setLive(live: Record<string, readonly number[]> | null): boolean {
    const numbers = [...this.numbers];
    const places = Object.entries(live ?? {}).map(([name, values]) => {
      const place = this.parameters.find((p) => p.name === name);
      if (place?.count === values.length) values.forEach((v, i) => (numbers[place.at + i] = v));
      return place?.count === values.length;
    });
    this.setRows(numbers);
    return places.every(Boolean);
  }

  /** Values alone: what a slider changes. */
  private setNumbers(look: Pick<ViewportLook, "numbers" | "fromXyz" | "parameters">) {
    this.numbers = look.numbers;
    this.parameters = look.parameters;
    this.setRows(look.numbers);
    (this.own.uFromXyz.value as three.Matrix3).fromArray(look.fromXyz);
  }

  private setRows(numbers: number[]) {
    this.own.uNumbers.value = Array.from({ length: numbers.length / 4 }, (_, i) =>
      new three.Vector4().fromArray(numbers, 4 * i),
    );
  }

  get canDraw() {
    return (
      this.form?.visible === true &&
      this.lit !== null &&
      this.shared.uView.value !== null &&
      this.shared.uAlbedo.value !== null
    );
  }

  resize(width: number, height: number) {
    const size = this.renderer.getSize(new three.Vector2());
    if (size.x === width && size.y === height) return;
    this.renderer.setSize(width, height, false);
    this.light.setSize(width, height);
  }

  private sight: Sight | null = null;

  /** The last frame once more, for who wants its pixels now. */
  redraw(): boolean {
    return this.sight !== null && this.draw(this.sight);
  }

  /** Draws one frame; false where something is still missing. */
  draw(sight: Sight): boolean {
    if (!this.canDraw || !this.head || !this.lit) return false;
    this.sight = sight;
    this.settling.reset();
    this.look(sight);
    this.turn(sight);
    this.castShadow(sight);
    const r = this.renderer;
    r.setRenderTarget(this.light);
    r.clear();
    r.render(this.scene, this.camera);
    this.show(this.light, 2 ** sight.exposure);
    return true;
  }

  private show(light: three.WebGLRenderTarget, exposure: number) {
    this.shared.uLight.value = light.texture;
    this.shared.uExposure.value = exposure;
    this.renderer.setRenderTarget(null);
    this.renderer.render(this.display, this.camera);
    this.frames++;
  }

  /** Makes ready what follows paths of light over what was drawn last; the picture stays as it is meanwhile. */
  async prepareSettling() {
    const { form, lightParts, settled } = this;
    if (!form || !lightParts || !this.canDraw) return;
    if (settled.form !== form.geometry) this.settling.setForm(form.geometry);
    if (settled.light !== lightParts) this.settling.setLight(lightParts.halves("sharp"), lightParts.head.sharpWidth);
    const structure = this.structure;
    if (settled.structure !== structure) {
      const material = this.material(
        this.texts.screenVertex,
        hierarchyText + this.source + this.texts.trace,
        { depthTest: false, depthWrite: false },
        { ...this.own, ...this.pictures, ...this.settling.uniforms },
      );
      const aside = new three.Scene();
      aside.add(this.mesh(this.paths.geometry, material));
      await this.renderer.compileAsync(aside, this.camera);
      (this.paths.material as three.Material).dispose();
      this.paths.material = material;
    }
    Object.assign((this.paths.material as three.RawShaderMaterial).uniforms, this.own, this.pictures);
    this.settled = { form: form.geometry, light: lightParts, structure };
    this.settling.reset();
  }

  /** Adds a path of light to every pixel of what was drawn last, and shows the mean; how many there are, 0 where it is not ready. */
  settle(): number {
    const { settled, sight } = this;
    if (!sight || settled.structure !== this.structure || settled.form !== this.form?.geometry) return 0;
    this.settling.add(this.renderer, this.paths, this.camera, this.light.width, this.light.height);
    this.show(this.settling.sum, 2 ** sight.exposure / this.settling.samples);
    return this.settling.samples;
  }

  /** Light of the last frame at a place, from the left and from the top 0..1: the mean of a patch, linear in the working space. */
  read(u: number, v: number, patch: number): [number, number, number] {
    const { width, height } = this.light;
    const half = Math.floor(patch / 2);
    const [x0, y0] = [Math.max(0, Math.floor(u * width) - half), Math.max(0, Math.floor((1 - v) * height) - half)];
    const [w, h] = [Math.min(patch, width - x0), Math.min(patch, height - y0)];
    const pixels = new Uint16Array(4 * w * h);
    this.renderer.readRenderTargetPixels(this.light, x0, y0, w, h, pixels);
    const sum: [number, number, number] = [0, 0, 0];
    for (let i = 0; i < w * h; i++)
      for (let c = 0; c < 3; c++) sum[c] += three.DataUtils.fromHalfFloat(pixels[4 * i + c]) / (w * h);
    return sum;
  }

  private look(sight: Sight) {
    const { centre, radius, fieldOfView } = this.head!;
    const [yaw, pitch] = [sight.yaw, Math.min(89, Math.max(-89, sight.pitch))].map((d) => (d * Math.PI) / 180);
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
    shared.uSpread.value = (2 * Math.tan(half)) / this.light.height;
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
    const harmonics = turnedHarmonics(this.lit!.harmonics, angle);
    (shared.uHarmonics.value as three.Vector3[]).forEach((h, i) => h.fromArray(harmonics, 3 * i));
    const suns = this.lit!.suns.slice(0, mostSuns);
    suns.forEach((sun, i) => {
      const [x, y, z] = turnedDirection(sun.direction, angle);
      (shared.uSunDirection.value as three.Vector4[])[i].set(x, y, z, sun.radius);
      (shared.uSunLight.value as three.Vector3[])[i].fromArray(sun.irradiance);
    });
    shared.uSuns.value = suns.length;
  }

  /** The first sun's shadow, made anew when it or the form has moved. */
  private castShadow(sight: Sight) {
    const sun = this.lit!.suns[0];
    const key = `${sight.lightRotation}`;
    if (this.shadowOf === key || !sun || !this.head) return;
    this.shadowOf = key;
    const { centre, radius } = this.head;
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
    this.look(sight);
  }

  dispose() {
    this.maps.forEach((m) => m.dispose());
    this.settling.dispose();
    for (const { value } of Object.values(this.shared)) if (value instanceof three.Texture) value.dispose();
    this.light.dispose();
    this.shadow.dispose();
    this.form?.geometry.dispose();
    this.renderer.dispose();
  }
}

/** Interpolated between its numbers, its edges going on. */
function filtered<T extends three.Texture>(texture: T): T {
  texture.minFilter = texture.magFilter = three.LinearFilter;
  texture.wrapS = texture.wrapT = three.ClampToEdgeWrapping;
  texture.generateMipmaps = false;
  texture.unpackAlignment = 1;
  texture.needsUpdate = true;
  return texture;
}

/** Maps of one size in one texture, a layer each, with their copies by halves. */
function mapArray(
  array: ViewportLook["maps"][number],
  layers: ArrayBuffer[],
  small: boolean,
  renderer: three.WebGLRenderer,
): three.Texture {
  const [width, height] = small ? smallSize(array.width, array.height) : [array.width, array.height];
  // Floats are not filtered everywhere; where they are not, halves have to do.
  const precise = array.isPrecise && renderer.extensions.has("OES_texture_float_linear");
  const count = (array.components === 1 ? 1 : 4) * width * height;
  const all = precise ? new Float32Array(count * layers.length) : new Uint16Array(count * layers.length);
  layers.forEach((layer, i) => {
    if (precise) all.set(new Float32Array(layer), i * count);
    else if (array.isPrecise)
      all.set(
        Uint16Array.from(new Float32Array(layer), (v) => three.DataUtils.toHalfFloat(v)),
        i * count,
      );
    else all.set(new Uint16Array(layer), i * count);
  });
  const texture = new three.DataArrayTexture(all, width, height, layers.length);
  texture.format = array.components === 1 ? three.RedFormat : three.RGBAFormat;
  texture.type = precise ? three.FloatType : three.HalfFloatType;
  filtered(texture);
  texture.wrapS = texture.wrapT = three.RepeatWrapping;
  texture.minFilter = three.LinearMipmapLinearFilter;
  texture.generateMipmaps = true;
  return texture;
}

/** The ground: a disc of 6 m. */
function floorGeometry(): three.BufferGeometry {
  const disc = new three.CircleGeometry(6, 64).rotateX(-Math.PI / 2);
  disc.setAttribute("aPosition", disc.getAttribute("position"));
  return disc;
}
