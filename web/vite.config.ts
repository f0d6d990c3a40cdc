import { createHash } from "node:crypto";
import { readFileSync } from "node:fs";
import tailwindcss from "@tailwindcss/vite";
import react from "@vitejs/plugin-react";
import type { Plugin } from "vite";
import { defineConfig } from "vitest/config";

/** Adds early.js, which asks for a stage's files and answers while the program is still on its way. */
function early(): Plugin {
  return {
    name: "early",
    apply: "build",
    generateBundle(_, bundle) {
      const chunks = Object.values(bundle).filter((item) => item.type === "chunk");
      const files = new Map(chunks.map((chunk) => [chunk.fileName, chunk.imports]));
      const entry = new Set(
        chunks.filter((chunk) => chunk.isEntry).flatMap((chunk) => [chunk.fileName, ...chunk.imports]),
      );
      const stages: Record<string, string[]> = {};
      for (const chunk of chunks) {
        const stage = /src\/stages\/(\w+)\/\w+\.tsx$/.exec(chunk.facadeModuleId ?? "")?.[1];
        if (!stage || !chunk.isDynamicEntry || chunk.name.toLowerCase() !== stage) continue;
        const needed = [chunk.fileName, ...(files.get(chunk.fileName) ?? [])];
        stages[stage] = needed.filter((file) => !entry.has(file)).map((file) => `/static/app/${file}`);
      }
      stages.log = stages.logbook ?? [];
      const text = readFileSync(new URL("./src/early/early.js", import.meta.url), "utf8");
      const source = text.replace("const CHUNKS = {};", `const CHUNKS = ${JSON.stringify(stages)};`);
      this.emitFile({ type: "asset", fileName: "early.js", source });
    },
    transformIndexHtml: (_, { bundle }) => {
      const named = createHash("sha256").update(
        Object.keys(bundle ?? {})
          .sort()
          .join(),
      );
      const src = `/static/app/early.js?${named.digest("hex").slice(0, 12)}`; // another build, another address
      return [{ tag: "script", attrs: { src }, injectTo: "head-prepend" }];
    },
  };
}

const server = process.env.TUTELAR_SERVER ?? "http://127.0.0.1:8000";

export default defineConfig(({ command }) => ({
  base: command === "build" ? "/static/app/" : "/",
  plugins: [react(), tailwindcss(), early()],
  build: {
    outDir: "../web_dist/app",
    emptyOutDir: true,
    assetsInlineLimit: 0,
    modulePreload: { polyfill: false },
    rolldownOptions: {
      output: {
        codeSplitting: {
          includeDependenciesRecursively: false,
          groups: [
            {
              name: "menus",
              test: /node_modules[\\/](@headlessui|@floating-ui|@react-aria|@react-stately|tabbable|use-sync)/,
            },
            {
              name: "framework",
              test: /node_modules[\\/](react|react-dom|react-router|scheduler|@tanstack[\\/](query-core|react-query)|openapi-fetch)[\\/]/,
            },
            { name: "stages", test: /[\\/]src[\\/]stages[\\/]/, minShareCount: 2 }, // what the first page does without
            { name: "shared", test: /[\\/]src[\\/]/, minShareCount: 2 },
          ],
        },
      },
    },
  },
  test: { include: ["src/**/*.test.{ts,tsx}"], isolate: false },
  server: {
    host: "127.0.0.1",
    port: 5173,
    strictPort: true,
    proxy: { "/api": { target: server, changeOrigin: false } },
  },
}));
