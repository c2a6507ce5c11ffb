import { brotliCompressSync, constants } from "node:zlib";
import type { Plugin } from "vite";

/** What is worth packing; fonts and pictures are packed already. */
const text = /\.(js|css|svg)$/;

/** A packed copy beside every file of text, as small as it gets: the server would have no time for that. */
export const packed: Plugin = {
  name: "packed-copies",
  apply: "build",
  generateBundle: {
    order: "post",
    handler(_, bundle) {
      for (const [name, file] of Object.entries(bundle)) {
        if (!text.test(name)) continue;
        const bytes = Buffer.from(file.type === "chunk" ? file.code : file.source);
        const source = brotliCompressSync(bytes, {
          params: {
            [constants.BROTLI_PARAM_QUALITY]: constants.BROTLI_MAX_QUALITY,
            [constants.BROTLI_PARAM_SIZE_HINT]: bytes.length,
          },
        });
        this.emitFile({ type: "asset", fileName: `${name}.br`, source });
      }
    },
  },
};
