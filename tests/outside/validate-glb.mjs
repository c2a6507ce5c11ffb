// node validate-glb.mjs FILE: the Khronos glTF validator's counts.
import fs from "node:fs";
import validator from "gltf-validator";

const report = await validator.validateBytes(new Uint8Array(fs.readFileSync(process.argv[2])));
const { numErrors, numWarnings, messages } = report.issues;
if (numErrors + numWarnings > 0) console.error(JSON.stringify(messages.filter((m) => m.severity < 2).slice(0, 8), null, 1));
console.log(`${numErrors} errors, ${numWarnings} warnings`);
