import tailwindcss from "@tailwindcss/vite";
import react from "@vitejs/plugin-react";
import { fileURLToPath } from "node:url";
import type { Plugin } from "vite";
import { defineConfig } from "vitest/config";
import { guide } from "./plugins/guide";
import { packed } from "./plugins/packed";

interface Injection {
  /** The part of the module's path that tells it. */
  of: string;
  /** What must be there for the replacement to be still right. */
  from: RegExp;
  to: string;
}

/** Libraries that add a style element by script, which the content security policy refuses. The same rules stand in theme.css. */
const injections: Injection[] = [
  { of: "/sonner/dist/", from: /function __insertCSS\(code\) \{/, to: "function __insertCSS(code) { return;" },
  {
    of: "/@radix-ui/react-select/dist/index.mjs",
    from: /jsx\(\s*"style",\s*\{\s*dangerouslySetInnerHTML:[\s\S]*?nonce\s*\}\s*\)/,
    to: "null",
  },
];

const withoutInjectedStyle: Plugin = {
  name: "without-injected-style",
  transform(code, id) {
    const known = injections.find((i) => id.includes(i.of));
    if (!known || !/__insertCSS|dangerouslySetInnerHTML/.test(code)) return null;
    if (!known.from.test(code)) throw new Error(`${id} adds its style in another way now; see vite.config.ts`);
    return { code: code.replace(known.from, known.to), map: null };
  },
};

export default defineConfig({
  plugins: [react(), tailwindcss(), withoutInjectedStyle, guide, packed],
  resolve: {
    alias: {
      // Dialogs stop the page behind them from scrolling by such a style; ours does not scroll, only its views do.
      "react-style-singleton": fileURLToPath(new URL("src/ui/noInjectedStyle.ts", import.meta.url)),
    },
  },
  build: { outDir: "dist", assetsInlineLimit: 0, chunkSizeWarningLimit: 600 },
  server: {
    fs: { allow: [".."] },
    proxy: { "/api": "http://127.0.0.1:5210", "/progress": { target: "http://127.0.0.1:5210", ws: true } },
  },
  test: { environment: "jsdom", include: ["src/**/*.test.{ts,tsx}"], setupFiles: ["src/testing/setup.ts"] },
});
