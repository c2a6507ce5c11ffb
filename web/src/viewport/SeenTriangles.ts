import * as three from "three";
import type { FormHead, ViewportText } from "./assets";
import type { Parts } from "./parts";
import type { Worn } from "./Scene";

type Uniforms = Record<string, three.IUniform>;
type Size = Record<"width" | "height", number>;

/** Triangles and vertices in a row of their textures, texels a vertex, harmonics of what it sees; the shader counts by them. */
const trianglesInRow = 1024;
const verticesInRow = 256;
const texels = 7;
const bands = 9;

/**
 * Which triangle each pixel sees. A form's triangles are smaller than a pixel in places, and each would be shaded in all the pixels it
 * touches; so they are drawn by number first, and each pixel is shaded once.
 */
export class SeenTriangles {
  /** What the shader asks that shades a pixel. */
  readonly uniforms: Uniforms = {
    uTriangles: { value: null },
    uVertices: { value: null },
    uSeen: { value: null },
    uIsMoved: { value: false },
  };
  private readonly target: three.WebGLRenderTarget;
  private readonly triangles: three.Mesh;
  private readonly whole: three.RawShaderMaterial;
  private count = 0;

  constructor(
    private readonly texts: ViewportText,
    private readonly material: (vertex: string, fragment: string, more: Uniforms) => three.RawShaderMaterial,
  ) {
    this.target = new three.WebGLRenderTarget(8, 8, {
      minFilter: three.NearestFilter,
      magFilter: three.NearestFilter,
      colorSpace: three.NoColorSpace,
    });
    this.uniforms.uSeen.value = this.target.texture;
    this.whole = this.withVertices(texts.whole, {});
    this.triangles = new three.Mesh(new three.BufferGeometry(), this.whole);
    this.triangles.frustumCulled = false;
  }

  /** What draws the numbers of a look that is not opaque. */
  cut(source: string, more: Uniforms): three.RawShaderMaterial {
    return this.withVertices(source + this.texts.cut, more);
  }

  private withVertices(fragment: string, more: Uniforms) {
    const { uTriangles, uVertices } = this.uniforms;
    return this.material(this.texts.triangleVertex, fragment, { uTriangles, uVertices, ...more });
  }

  setForm(parts: Parts<FormHead>) {
    const visible = spread(parts, "visible", bands);
    const { head, floats, ints } = parts;
    const [positions, normals, tangents, uvs] = ["positions", "normals", "tangents", "uvs"].map(floats);
    const [indices, between, shares] = [ints("indices"), ints("between"), floats("shares")];
    const count = positions.length / 3;
    const rows = Math.ceil(count / verticesInRow);
    const all = new Float32Array(4 * texels * verticesInRow * rows);
    for (let i = 0; i < count; i++) {
      const at = 4 * texels * i;
      all.set(positions.subarray(3 * i, 3 * i + 3), at);
      all[at + 3] = uvs[2 * i];
      all.set(normals.subarray(3 * i, 3 * i + 3), at + 4);
      all[at + 7] = uvs[2 * i + 1];
      all.set(tangents.subarray(4 * i, 4 * i + 4), at + 8);
      // Whole numbers below 2^24 are exact in floats.
      all.set(between.subarray(3 * i, 3 * i + 3), at + 12);
      all.set(visible.subarray(bands * i, bands * (i + 1)), at + 16);
      all.set(shares.subarray(3 * i, 3 * i + 2), at + 16 + bands);
    }
    this.set("uVertices", all, texels * verticesInRow);
    this.uniforms.uIsMoved.value = count > head.own;
    this.setOrder(indices);
  }

  /** The form's triangles in another order. */
  setOrder(indices: Uint32Array) {
    this.count = indices.length / 3;
    const numbers = new Float32Array(4 * trianglesInRow * Math.ceil(this.count / trianglesInRow));
    for (let i = 0; i < this.count; i++) numbers.set(indices.subarray(3 * i, 3 * i + 3), 4 * i);
    this.set("uTriangles", numbers, trianglesInRow);
  }

  private set(name: string, numbers: Float32Array<ArrayBuffer>, width: number) {
    (this.uniforms[name].value as three.Texture | null)?.dispose();
    const texture = new three.DataTexture(
      numbers,
      width,
      numbers.length / 4 / width,
      three.RGBAFormat,
      three.FloatType,
    );
    texture.needsUpdate = true;
    this.uniforms[name].value = texture;
  }

  /** Draws the numbers for the pixels of a picture, of all triangles but where a look leaves them open. */
  draw(renderer: three.WebGLRenderer, camera: three.Camera, picture: Size, worn: readonly Worn[]) {
    this.target.setSize(picture.width, picture.height);
    renderer.setRenderTarget(this.target);
    renderer.setClearColor(0x000000, 0);
    renderer.clear();
    renderer.setClearColor(0x000000, 1);
    const open = worn.filter(({ look }) => look.cut);
    for (const { look, range } of open.length > 0 ? worn : [])
      this.drawRange(renderer, camera, range ?? [0, this.count], look.cut ?? this.whole);
    if (open.length === 0) this.drawRange(renderer, camera, [0, this.count], this.whole);
  }

  private drawRange(
    renderer: three.WebGLRenderer,
    camera: three.Camera,
    [from, to]: [number, number],
    by: three.Material,
  ) {
    this.triangles.material = by;
    this.triangles.geometry.setDrawRange(3 * from, 3 * (to - from));
    renderer.render(this.triangles, camera);
  }

  dispose() {
    this.target.dispose();
    this.triangles.geometry.dispose();
    this.whole.dispose();
    for (const { value } of Object.values(this.uniforms)) if (value instanceof three.Texture) value.dispose();
  }
}

/** What is known of a form's own vertices, for all. */
function spread({ head, floats, ints }: Parts<FormHead>, name: string, each: number): Float32Array {
  const [own, between, shares] = [floats(name), ints("between"), floats("shares")];
  if (between.length === 3 * head.own) return own;
  const all = new Float32Array((between.length / 3) * each);
  for (let i = 0; i < between.length; i++)
    for (let c = 0; shares[i] > 0 && c < each; c++)
      all[Math.floor(i / 3) * each + c] += shares[i] * own[between[i] * each + c];
  return all;
}
