import { gzipSync } from "node:zlib";
import react from "@vitejs/plugin-react";
import { defineConfig, type Plugin } from "vite";

/** Beside each text file a compressed one, so that the server compresses nothing when it is asked. */
const compressed = (): Plugin => ({
  name: "compressed",
  apply: "build",
  generateBundle: {
    order: "post",
    handler(_, bundle) {
      for (const [name, file] of Object.entries(bundle)) {
        if (!/\.(js|css|html|svg)$/.test(name)) continue;
        const source = gzipSync(file.type === "chunk" ? file.code : file.source, { level: 9 });
        this.emitFile({ type: "asset", fileName: `${name}.gz`, source });
      }
    },
  },
});

/** Where the program listens unless told otherwise. */
const PROGRAM = "http://127.0.0.1:8017";

export default defineConfig({
  plugins: [react(), compressed()],
  // The program takes no request that comes from another address than its own.
  server: { proxy: { "/api": { target: PROGRAM, changeOrigin: true, headers: { origin: PROGRAM } } } },
  build: { chunkSizeWarningLimit: 700 },
});
