import * as three from "three";
import { smallSize, type ViewportLook } from "./assets";

/** Interpolated between its numbers, its edges going on. */
export function filtered<T extends three.Texture>(texture: T): T {
  texture.minFilter = texture.magFilter = three.LinearFilter;
  texture.wrapS = texture.wrapT = three.ClampToEdgeWrapping;
  texture.generateMipmaps = false;
  texture.unpackAlignment = 1;
  texture.needsUpdate = true;
  return texture;
}

/** Maps of one size in one texture, a layer each, with their copies by halves. */
export function mapArray(
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

/** Light as it was drawn, of a square picture: four numbers a pixel, rows from the bottom, several places a pixel. */
export interface DrawnLight {
  side: number;
  numbers: Float32Array;
}

/** All that was drawn, for who reads numbers of it when something else is drawn there. */
export function drawnLight(renderer: three.WebGLRenderer, drawn: three.WebGLRenderTarget): DrawnLight {
  const side = drawn.width;
  const isHalf = drawn.texture.type === three.HalfFloatType;
  const pixels = isHalf ? new Uint16Array(4 * side * side) : new Float32Array(4 * side * side);
  renderer.readRenderTargetPixels(drawn, 0, 0, side, side, pixels);
  return {
    side,
    numbers: isHalf ? Float32Array.from(pixels, (v) => three.DataUtils.fromHalfFloat(v)) : (pixels as Float32Array),
  };
}

/** The mean of a square of what was drawn, around a place from the left and from the top, 0..1: halves or floats. */
export function meanOf(
  renderer: three.WebGLRenderer,
  drawn: three.WebGLRenderTarget,
  { u, v, patch }: { u: number; v: number; patch: number },
): [number, number, number] {
  const half = Math.floor(patch / 2);
  const [x, y] = [Math.floor(u * drawn.width), Math.floor((1 - v) * drawn.height)];
  const [x0, y0] = [Math.max(0, x - half), Math.max(0, y - half)];
  const [w, h] = [Math.min(patch, drawn.width - x0), Math.min(patch, drawn.height - y0)];
  const isHalf = drawn.texture.type === three.HalfFloatType;
  const pixels = isHalf ? new Uint16Array(4 * w * h) : new Float32Array(4 * w * h);
  renderer.readRenderTargetPixels(drawn, x0, y0, w, h, pixels);
  const sum: [number, number, number] = [0, 0, 0];
  for (let i = 0; i < w * h; i++)
    for (let c = 0; c < 3; c++) {
      const value = pixels[4 * i + c];
      sum[c] += (isHalf ? three.DataUtils.fromHalfFloat(value) : value) / (w * h);
    }
  return sum;
}
