import * as three from "three";
import type { FollowedNumber, ViewportLook } from "./assets";
import { changes } from "./following";
import { mapArray } from "./textures";

type Uniforms = Record<string, three.IUniform>;

/** What a scene does for the looks that it wears. */
export interface Maker {
  renderer: three.WebGLRenderer;
  /** What shades a pixel, of a look's text. */
  material: (source: string, more: Uniforms) => three.RawShaderMaterial;
  /** What tells which triangles of a look are seen that is not opaque. */
  cut: (source: string, more: Uniforms) => three.RawShaderMaterial;
  /** Until they can be drawn. */
  compile: (materials: three.Material[]) => Promise<void>;
}

/** A look's shader. */
interface LookShader {
  material: three.RawShaderMaterial;
  /** Tells which triangles are seen, where the look is not opaque. */
  cut: three.RawShaderMaterial | null;
}

/** Shaders of a look that are kept, so that a light with a sun and one without are changed at once. */
const mostShaders = 4;

/** Textures that the shader of a look asks beside its maps: light, albedo, the floor, a shadow, form and vertices. */
const otherTextures = 11;

/** A look as a scene draws it: its shaders, numbers and maps. */
export class WornLook {
  /** Shades each pixel of what it lies on, once. */
  readonly surface = new three.Mesh(new three.BufferGeometry(), new three.Material());
  /** The numbers that are its own, and the triangles it lies on. */
  readonly own: Record<"uNumbers" | "uFromXyz" | "uRange", three.IUniform> = {
    uNumbers: { value: [] },
    uFromXyz: { value: new three.Matrix3() },
    uRange: { value: [0, 0] },
  };
  structure = "";
  source = "";
  pictures: Uniforms = {};
  isReady = false;
  cut: three.Material | null = null;
  private readonly shaders = new Map<string, LookShader>();
  maps: three.Texture[] = [];
  private numbers: number[] = [];
  parameters: ViewportLook["parameters"] = [];
  followed: readonly FollowedNumber[] = [];

  constructor(private readonly maker: Maker) {
    this.surface.frustumCulled = false;
  }

  /**
   * Another look, or the same with other values: a new shader only where the structure is another.
   * @param layers The numbers of its maps; none where it has them.
   * @param hasSuns Whether the light that it is about to be seen in has any, for which the shader has a part.
   */
  async set(look: ViewportLook & { source: string }, layers: ArrayBuffer[][], small: boolean, hasSuns: boolean) {
    const { renderer } = this.maker;
    if (look.maps.length + otherTextures > renderer.capabilities.maxTextures)
      throw new Error(
        "This look has maps of more sizes than this graphics processor reads at once, so the server's pictures are shown.",
      );
    if (layers.length > 0 || look.maps.length === 0) {
      this.maps.forEach((m) => m.dispose());
      this.maps = look.maps.map((array, i) => mapArray(array, layers[i], small, renderer));
    }
    this.pictures = Object.fromEntries(this.maps.map((texture, i) => [`uMaps${i}`, { value: texture }]));
    this.source = look.source;
    const key = `${look.structure} ${hasSuns}`;
    const known = this.shaders.get(key) ?? (await this.compiled(look, hasSuns));
    // What was used last is let go of last.
    this.shaders.delete(key);
    this.shaders.set(key, known);
    for (const [name, shader] of this.shaders) {
      if (this.shaders.size <= mostShaders) break;
      dispose(shader);
      this.shaders.delete(name);
    }
    for (const each of [known.material, known.cut]) if (each) Object.assign(each.uniforms, this.pictures);
    this.setNumbers(look);
    this.surface.material = known.material;
    this.cut = known.cut;
    this.structure = look.structure;
    this.isReady = true;
  }

  /** A look's shader once it can be drawn; the last picture stays until then. */
  private async compiled(look: ViewportLook & { source: string }, hasSuns: boolean): Promise<LookShader> {
    const before = `#define KILN_SUNS ${hasSuns ? 1 : 0}\n${look.source}`;
    const uniforms = { ...this.own, ...this.pictures };
    const material = this.maker.material(before, uniforms);
    const cut = look.isOpaque ? null : this.maker.cut(before, uniforms);
    await this.maker.compile(cut ? [material, cut] : [material]);
    return { material, cut };
  }

  setFollowed(followed: readonly FollowedNumber[]) {
    this.followed = followed;
  }

  /** False where a number has no place here. */
  setLive(live: Record<string, readonly number[]> | null): boolean {
    const numbers = [...this.numbers];
    const places = Object.entries(live ?? {}).map(([name, values]) => {
      const place = this.parameters.find((p) => p.name === name);
      if (place?.count !== values.length) return this.follow(name, values, numbers);
      // Three of them lie in one entry.
      values.forEach((v, i) => (numbers[place.at + 4 * Math.floor(i / 3) + (i % 3)] = v));
      return true;
    });
    this.own.uNumbers.value = rowsOf(numbers);
    return places.every(Boolean);
  }

  private follow(name: string, values: readonly number[], numbers: number[]): boolean {
    const own = this.followed.filter((f) => f.name === name);
    for (const one of own) for (const [at, by] of changes(one, values[one.component])) numbers[at] += by;
    return own.length === values.length;
  }

  /** Values alone: what a slider changes. */
  private setNumbers(look: Pick<ViewportLook, "numbers" | "fromXyz" | "parameters">) {
    this.numbers = look.numbers;
    this.parameters = look.parameters;
    this.followed = [];
    this.own.uNumbers.value = rowsOf(look.numbers);
    (this.own.uFromXyz.value as three.Matrix3).fromArray(look.fromXyz);
  }

  dispose() {
    this.maps.forEach((m) => m.dispose());
    this.shaders.forEach(dispose);
  }
}

function dispose({ material, cut }: LookShader) {
  material.dispose();
  cut?.dispose();
}

const rowsOf = (numbers: number[]) =>
  Array.from({ length: numbers.length / 4 }, (_, i) => new three.Vector4().fromArray(numbers, 4 * i));
