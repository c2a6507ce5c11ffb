// node read-usd-meshes.mjs LAYER…: reads USD layers and prints the meshes of each as a line of JSON: path and bounds in the layer's units and axes as tinyusdz has them (three's
// loader knows fewer kinds of places, and none that shears); triangles, whether it has UVs, and their area, as three's loader has them (tinyusdz gives UVs only where a
// material asks for them, and of a hexagon two triangles). Every mesh has a name of its own, and every point of it a face.
import fs from "node:fs";
import path from "node:path";

// The package is built for browsers; it looks for their window and for the absence of Node.
process.type = "renderer";
globalThis.self = globalThis;
globalThis.document = { createElementNS: () => ({}) };
globalThis.window = { location: { href: "file:///" } };
const modules = path.join(path.dirname(new URL(import.meta.url).pathname), "node_modules");
const folder = path.join(modules, "tinyusdz");
const wasm = fs.readFileSync(path.join(folder, "tinyusdz.wasm"));
globalThis.fetch = async () => new Response(wasm, { headers: { "Content-Type": "application/wasm" } });
const { default: start } = await import(path.join(folder, "tinyusdz.js"));
const usd = await start();
const { USDLoader } = await import(path.join(modules, "three/examples/jsm/loaders/USDLoader.js"));
console.warn = () => {};

// Points are rows: a node's own matrix acts before those above it.
const product = (a, b) => Array.from({ length: 16 }, (_, i) => [0, 1, 2, 3].reduce((sum, k) => sum + a[4 * (i >> 2) + k] * b[4 * k + (i & 3)], 0));
const placed = ([x, y, z], m) => [0, 1, 2].map((c) => x * m[c] + y * m[4 + c] + z * m[8 + c] + m[12 + c]);

function placedMesh({ points }, matrix, name) {
  const min = [Infinity, Infinity, Infinity], max = [-Infinity, -Infinity, -Infinity];
  for (let i = 0; i < points.length; i += 3)
    placed(points.slice(i, i + 3), matrix).forEach((v, c) => {
      min[c] = Math.min(min[c], v);
      max[c] = Math.max(max[c], v);
    });
  return { path: name, min, max };
}

function areaOfUvs({ index, attributes: { uv } }) {
  if (!uv) return 0;
  const corner = (i) => (index ? index.getX(i) : i);
  let area = 0;
  for (let i = 0; i < (index ? index.count : uv.count); i += 3) {
    const [a, b, c] = [corner(i), corner(i + 1), corner(i + 2)];
    area += (uv.getX(b) - uv.getX(a)) * (uv.getY(c) - uv.getY(a)) - (uv.getX(c) - uv.getX(a)) * (uv.getY(b) - uv.getY(a));
  }
  return area / 2;
}

function uvsByName(bytes) {
  const isText = bytes.subarray(0, 5).toString() === "#usda";
  const uvs = {};
  new USDLoader()
    .parse(isText ? bytes.toString("utf8") : bytes.buffer.slice(bytes.byteOffset, bytes.byteOffset + bytes.length))
    .traverse((m) => m.isMesh && (uvs[m.name] = { triangles: (m.geometry.index ?? m.geometry.attributes.position).count / 3, uvs: Boolean(m.geometry.attributes.uv), area: areaOfUvs(m.geometry) }));
  return uvs;
}

for (const file of process.argv.slice(2)) {
  const bytes = fs.readFileSync(file);
  const uvs = uvsByName(bytes);
  const scene = new usd.TinyUSDZLoaderNative();
  if (!scene.loadFromBinary(new Uint8Array(bytes), path.basename(file))) {
    console.error("not read:", file, scene.error?.() ?? "");
    process.exit(1);
  }
  const meshes = [];
  const visit = (node, above) => {
    const matrix = product(Array.from(node.localMatrix), above);
    if (node.nodeType === "mesh") meshes.push({ ...placedMesh(scene.getMesh(node.contentId), matrix, node.absPath), ...uvs[path.basename(node.absPath)] });
    for (const child of node.children ?? []) visit(child, matrix);
  };
  visit(scene.getDefaultRootNode(), [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1]);
  console.log(JSON.stringify(meshes));
}
