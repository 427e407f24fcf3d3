import { defineConfig } from "drizzle-kit";

export default defineConfig({
  dialect: "sqlite",
  casing: "snake_case",
  schema: "./server/database/schema.ts",
  out: "./server/database/migrations",
});
