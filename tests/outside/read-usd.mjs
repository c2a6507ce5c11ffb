// node read-usd.mjs LAYER…: reads USD layers with tinyusdz and prints what it makes of each as a line of JSON: meshes, materials and their preview surfaces, textures.
import fs from "node:fs";
import path from "node:path";

// The package is built for browsers; it looks for their window and for the absence of Node.
process.type = "renderer";
globalThis.window = { location: { href: "file:///" } };
const folder = path.join(path.dirname(new URL(import.meta.url).pathname), "node_modules/tinyusdz");
const wasm = fs.readFileSync(path.join(folder, "tinyusdz.wasm"));
globalThis.fetch = async () => new Response(wasm, { headers: { "Content-Type": "application/wasm" } });
const { default: start } = await import(path.join(folder, "tinyusdz.js"));
const usd = await start();
const plain = (o) => JSON.parse(JSON.stringify(o, (_, v) => (ArrayBuffer.isView(v) ? Array.from(v).slice(0, 4) : v)));
for (const file of process.argv.slice(2)) {
  let scene = new usd.TinyUSDZLoaderNative();
  if (!scene.loadFromBinary(new Uint8Array(fs.readFileSync(file)), path.basename(file))) {
    console.error("not read:", file, scene.error?.() ?? "");
    process.exit(1);
  }
  // The library makes the choices of variant sets where there are any; its scene alone leaves them out.
  if (fs.readFileSync(file).includes("variantSet ")) {
    scene = new usd.TinyUSDZLoaderNative();
    if (!scene.loadAsLayerFromBinary(new Uint8Array(fs.readFileSync(file)), path.basename(file)) || !scene.composeVariants() || !scene.layerToRenderScene()) {
      console.error("not composed:", file, scene.error?.() ?? "");
      process.exit(1);
    }
  }
  const meshes = Array.from({ length: scene.numMeshes() }, (_, i) => scene.getMesh(i));
  const materials = meshes.map((m) => plain(scene.getMaterial(m.materialId)));
  const textures = {};
  for (const material of materials)
    for (const [name, id] of Object.entries(material)) if (name.endsWith("TextureId") && id >= 0) textures[name] = scene.getImage(scene.getTexture(id).textureImageId).uri;
  console.log(JSON.stringify({ meshes: meshes.length, points: meshes[0]?.points?.length, materials, textures }));
}
