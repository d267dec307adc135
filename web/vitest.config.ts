import { defineConfig, mergeConfig } from "vitest/config";

import built from "./vite.config";

export default mergeConfig(
  built,
  defineConfig({
    test: {
      environment: "jsdom",
      setupFiles: ["tests/setup.ts"],
      include: ["tests/**/*.test.{ts,tsx}"],
      maxWorkers: "100%", // of two processors it would leave one idle
    },
  }),
);
