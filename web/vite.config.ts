import tailwindcss from "@tailwindcss/vite";
import react from "@vitejs/plugin-react";
import { defineConfig } from "vite";

export default defineConfig(({ mode }) =>
  mode === "units"
    ? { build: { outDir: "dist-units", emptyOutDir: true, lib: { entry: "src/units.ts", formats: ["es"], fileName: "units" } } }
    : {
        plugins: [react(), tailwindcss()],
        build: {
          outDir: "../src/HardyEmber.Web/wwwroot",
          emptyOutDir: true,
          assetsInlineLimit: 0, // the content-security policy allows no data: fonts
          modulePreload: { polyfill: false },
        },
      },
);
