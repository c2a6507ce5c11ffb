// node validate-mtlx.mjs [--generate | --definitions] DOCUMENT…: reads each with the definitions that lie beside it, imports the standard ones, validates, and generates shader code
// or tells the definition that each node is of, if asked.
import fs from "node:fs";
import path from "node:path";
import Module from "node:module";

const folder = path.join(path.dirname(new URL(import.meta.url).pathname), "node_modules/@needle-tools/materialx/bin");
globalThis.__dirname = folder;
const read = (file) => fs.readFileSync(path.join(folder, file));
// The library is compiled from memory: checks run side by side, and a copy on the disk was found half written by one while another wrote it.
const library = new Module(path.join(folder, "JsMaterialXGenShader.cjs"));
library._compile(read("JsMaterialXGenShader.js").toString().replace(/export default MaterialX;\s*$/, ""), library.id);
const mx = await (library.exports.default ?? library.exports)({
  wasmBinary: read("JsMaterialXGenShader.wasm"),
  getPreloadedPackage: () => read("JsMaterialXGenShader.data.txt").buffer,
  locateFile: (f) => path.join(folder, f),
});
const generate = process.argv[2] === "--generate", definitions = process.argv[2] === "--definitions";
const generator = mx.EsslShaderGenerator.create();
const context = new mx.GenContext(generator);
const standard = mx.loadStandardLibraries(context);
const withoutInclude = (text) => text.replace(/<xi:include[^>]*>/g, "");

async function wrong(file) {
  const document = mx.createDocument();
  // Referred to, not copied: a copy would be validated again whole with every document.
  document.setDataLibrary(standard);
  const definitionsBeside = async (material) => {
    const beside = material.replace(/\.mtlx$/, "_defs.mtlx");
    if (!fs.existsSync(beside)) return;
    const own = mx.createDocument();
    await mx.readFromXmlString(own, fs.readFileSync(beside, "utf8"), "");
    document.importLibrary(own);
  };
  await definitionsBeside(file);
  const text = fs.readFileSync(file, "utf8");
  // Documents of materials that a look assigns: all are read into one, where of two things with one name the first is kept.
  for (const [, name] of text.matchAll(/<xi:include href="([^"]*)"/g)) {
    if (name.endsWith("_defs.mtlx")) continue;
    const beside = path.join(path.dirname(file), name);
    await definitionsBeside(beside);
    const included = mx.createDocument();
    await mx.readFromXmlString(included, withoutInclude(fs.readFileSync(beside, "utf8")), "");
    for (const node of included.getNodes()) if (document.getChild(node.getName())) return `${name} and another have something called ${node.getName()}`;
    document.importLibrary(included);
  }
  await mx.readFromXmlString(document, withoutInclude(text), "");
  const message = {};
  if (!document.validate(message)) return `not valid: ${message.message ?? JSON.stringify(message)}`;
  // Every node must have a definition, or the document only looks right.
  for (const node of document.getNodes ? document.getNodes() : [])
    if (!node.getNodeDef?.()) return `no definition for ${node.getCategory()} ${node.getName()}`;
    else if (definitions && node.getCategory() !== "surfacematerial") console.log(`${node.getName()} ${node.getNodeDef().getName()}`);
  for (const look of document.getLooks?.() ?? [])
    for (const assigned of look.getMaterialAssigns())
      if (!document.getChild(assigned.getMaterial())) return `no material ${assigned.getMaterial()} for ${assigned.getGeom?.() ?? assigned.getName()}`;
  if (generate && generator.generate("check", mx.findRenderableElement(document), context).getSourceCode("pixel").length < 1000) return "hardly any shader code";
  return null;
}

let failed = 0;
for (const file of process.argv.slice(generate || definitions ? 3 : 2)) {
  const sentence = await wrong(file);
  if (sentence) failed++;
  console.log(`${sentence ?? "valid"}: ${path.basename(file)}`);
}
process.exit(failed > 0 ? 1 : 0);
