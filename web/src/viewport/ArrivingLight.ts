import * as three from "three";
import type { FormHead, ViewportText } from "./assets";
import type { Parts } from "./parts";

/** Vertices in a row of what is known of each; the shader of vertices counts by it. */
const row = 512;

/**
 * Light that arrives at each vertex of a form and at the floor about it: once for every light, turn of it and form, by what each sees of
 * the sky in cells of directions. Drawn into textures, which the shaders of form and floor ask.
 */
export class ArrivingLight {
  /** What the shaders of form and floor ask. */
  readonly uniforms: Record<string, three.IUniform> = {
    uFloorLight: { value: null },
    uFormRed: { value: null },
    uFormGreen: { value: null },
    uFormBlue: { value: null },
  };
  /** What its own shaders ask besides. */
  private readonly own: Record<string, three.IUniform> = {
    uCells: { value: null },
    uCellLight: { value: null },
    uFloorSeen: { value: null },
    uFormSeen: { value: null },
    uOwnPositions: { value: null },
    uOwnNormals: { value: null },
    uCellCount: { value: 0 },
    uCellsAbove: { value: 0 },
  };
  private readonly cells: three.WebGLRenderTarget;
  private readonly floor: three.WebGLRenderTarget;
  private readonly vertices: three.WebGLRenderTarget;
  private readonly passes: [three.Mesh, three.WebGLRenderTarget][];
  private readonly camera = new three.Camera();

  constructor(
    texts: ViewportText,
    type: three.TextureDataType,
    material: (fragment: string, more: Record<string, three.IUniform>) => three.Material,
    screen: three.BufferGeometry,
  ) {
    const target = (filter: three.MagnificationTextureFilter, count = 1) =>
      new three.WebGLRenderTarget(8, 8, {
        count,
        type,
        minFilter: filter,
        magFilter: filter,
        depthBuffer: false,
        colorSpace: three.NoColorSpace,
      });
    this.cells = target(three.NearestFilter);
    // Halves are filtered everywhere; floats are not.
    this.floor = target(three.LinearFilter);
    this.floor.texture.type = three.HalfFloatType;
    this.vertices = target(three.NearestFilter, 3);
    this.own.uCellLight.value = this.cells.texture;
    this.uniforms.uFloorLight.value = this.floor.texture;
    ["uFormRed", "uFormGreen", "uFormBlue"].forEach((name, i) => {
      this.uniforms[name].value = this.vertices.textures[i];
    });
    const pass = (fragment: string, to: three.WebGLRenderTarget, more = {}) => {
      const mesh = new three.Mesh(screen, material(fragment, { ...this.own, ...more }));
      mesh.frustumCulled = false;
      return [mesh, to] as [three.Mesh, three.WebGLRenderTarget];
    };
    this.passes = [
      pass(texts.cellLight, this.cells),
      // What is drawn into is not asked.
      pass(texts.floorLight, this.floor, { uFloorLight: { value: null } }),
      pass(texts.formLight, this.vertices, { uFloorLight: this.uniforms.uFloorLight }),
    ];
  }

  setForm({ head, floats, ints }: Parts<FormHead>) {
    const rows = Math.ceil(head.own / row);
    const isMoved = floats("ownPositions").length > 0;
    this.set("uCells", inRows(floats("cells"), 4, head.cells, 2));
    this.set("uFloorSeen", bits(ints("floor"), 2 * head.floorSide, head.floorSide));
    this.set("uFormSeen", bits(ints("seen"), 4 * row, rows));
    this.set("uOwnPositions", inRows(floats(isMoved ? "ownPositions" : "positions"), 3, row, rows));
    this.set("uOwnNormals", inRows(floats(isMoved ? "ownNormals" : "normals"), 3, row, rows));
    this.own.uCellCount.value = head.cells;
    this.own.uCellsAbove.value = head.cellsAbove;
    this.cells.setSize(head.cells, 1);
    this.floor.setSize(2 * head.floorSide, head.floorSide);
    this.vertices.setSize(row, rows * (head.isSheet ? 2 : 1));
  }

  private set(name: string, texture: three.Texture) {
    (this.own[name].value as three.Texture | null)?.dispose();
    this.own[name].value = texture;
  }

  /** Gathers anew; the light, its turn and the first sun's shadow are those of the shared uniforms. */
  gather(renderer: three.WebGLRenderer) {
    for (const [mesh, to] of this.passes) {
      renderer.setRenderTarget(to);
      renderer.render(mesh, this.camera);
    }
  }

  dispose() {
    for (const [mesh, to] of this.passes) {
      (mesh.material as three.Material).dispose();
      to.dispose();
    }
    for (const { value } of [...Object.values(this.own), ...Object.values(this.uniforms)])
      if (value instanceof three.Texture) value.dispose();
  }
}

/** Numbers of so many a thing, one thing a texel. */
function inRows(numbers: Float32Array, each: number, width: number, height: number): three.DataTexture {
  const all = new Float32Array(4 * width * height);
  for (let i = 0, at = 0; i < numbers.length; i += each, at += 4)
    for (let c = 0; c < each; c++) all[at + c] = numbers[i + c];
  const texture = new three.DataTexture(all, width, height, three.RGBAFormat, three.FloatType);
  texture.needsUpdate = true;
  return texture;
}

/** Words of 32 bits, four to a texel. */
function bits(words: Uint32Array, width: number, height: number): three.DataTexture {
  const all = new Uint32Array(4 * width * height);
  all.set(words);
  const texture = new three.DataTexture(all, width, height, three.RGBAIntegerFormat, three.UnsignedIntType);
  texture.internalFormat = "RGBA32UI";
  texture.needsUpdate = true;
  return texture;
}
