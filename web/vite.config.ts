import { fileURLToPath, URL } from "node:url";
import vue from "@vitejs/plugin-vue";
import { defineConfig } from "vitest/config";

export default defineConfig({
  plugins: [vue()],
  base: "/static/",
  resolve: { alias: { "@": fileURLToPath(new URL("./src", import.meta.url)) } },
  build: {
    target: "es2022",
    chunkSizeWarningLimit: 900,
    // the router's links lie in a file of its that is called after developer tools, which are not in what is built
    rolldownOptions: { output: { codeSplitting: { groups: [{ name: "router", test: /node_modules\/vue-router/ }] } } },
  },
  // `npm run dev` shows the screens while bin/demo answers for everything else
  server: { fs: { allow: [".."] }, proxy: Object.fromEntries(["/api", "/preview", "/live"].map((path) => [path, "http://127.0.0.1:8000"])) },
  test: { dir: "../tests/web", globals: true },
});
