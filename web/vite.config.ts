import tailwindcss from "@tailwindcss/vite";
import react from "@vitejs/plugin-react";
import { defineConfig, type Plugin } from "vite";

/** The toast library adds its style to the page by a script, which the content security policy refuses; the same style comes with ours (sonner/dist/styles.css). */
const withoutInjectedStyle: Plugin = {
  name: "without-injected-style",
  transform(code, id) {
    if (!id.includes("/sonner/dist/")) return null;
    const quiet = code.replace("function __insertCSS(code) {", "function __insertCSS(code) { return;");
    if (quiet === code && code.includes("__insertCSS"))
      throw new Error("sonner adds its style in another way now; see vite.config.ts");
    return { code: quiet, map: null };
  },
};

export default defineConfig({
  plugins: [react(), tailwindcss(), withoutInjectedStyle],
  build: { outDir: "dist", assetsInlineLimit: 0, chunkSizeWarningLimit: 900 },
  server: { proxy: { "/api": "http://127.0.0.1:5210", "/progress": { target: "http://127.0.0.1:5210", ws: true } } },
});
