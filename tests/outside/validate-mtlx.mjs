// node validate-mtlx.mjs DOCUMENT [DEFINITIONS] [generate]: reads, imports the standard definitions, validates, and generates shader code if asked.
import fs from "node:fs";
import path from "node:path";
import { createRequire } from "node:module";

const require = createRequire(import.meta.url);
const folder = path.join(path.dirname(new URL(import.meta.url).pathname), "node_modules/@needle-tools/materialx/bin");
globalThis.__dirname = folder;
const read = (file) => fs.readFileSync(path.join(folder, file));
fs.mkdirSync("/tmp/kiln-materialx", { recursive: true });
const library = "/tmp/kiln-materialx/JsMaterialXGenShader.cjs";
fs.writeFileSync(library, read("JsMaterialXGenShader.js").toString().replace(/export default MaterialX;\s*$/, ""));
const factory = require(library);
const mx = await (factory.default ?? factory)({
  wasmBinary: read("JsMaterialXGenShader.wasm"),
  getPreloadedPackage: () => read("JsMaterialXGenShader.data.txt").buffer,
  locateFile: (f) => path.join(folder, f),
});
const [, , file, definitions, generate] = process.argv;
const document = mx.createDocument();
const generator = mx.EsslShaderGenerator.create();
const context = new mx.GenContext(generator);
const standard = mx.loadStandardLibraries(context);
document.importLibrary(standard);
const withoutInclude = (text) => text.replace(/<xi:include[^>]*>/g, "");
if (definitions) {
  const own = mx.createDocument();
  await mx.readFromXmlString(own, fs.readFileSync(definitions, "utf8"), "");
  document.importLibrary(own);
}
await mx.readFromXmlString(document, withoutInclude(fs.readFileSync(file, "utf8")), "");
const message = {};
if (!document.validate(message)) {
  console.error("not valid:", message.message ?? message);
  process.exit(1);
}
// Every node must have a definition, or the document only looks right.
for (const node of document.getNodes ? document.getNodes() : []) {
  const definition = node.getNodeDef ? node.getNodeDef() : null;
  if (!definition) {
    console.error(`no definition for ${node.getCategory()} ${node.getName()}`);
    process.exit(1);
  }
}
if (generate) {
  const renderable = mx.findRenderableElement(document);
  const shader = generator.generate("check", renderable, context);
  if (shader.getSourceCode("pixel").length < 1000) process.exit(1);
}
console.log("valid");
