// node validate-glb.mjs FILE…: the Khronos glTF validator's counts, a line for each file.
import fs from "node:fs";
import validator from "gltf-validator";

for (const file of process.argv.slice(2)) {
  const report = await validator.validateBytes(new Uint8Array(fs.readFileSync(file)));
  const { numErrors, numWarnings, messages } = report.issues;
  if (numErrors + numWarnings > 0) console.error(file, JSON.stringify(messages.filter((m) => m.severity < 2).slice(0, 8), null, 1));
  console.log(`${numErrors} errors, ${numWarnings} warnings`);
}
