import type { Plugin } from "vite";

export function compiledCatalogue(catalogue: Record<string, string>): Record<string, unknown>;
export function compiledWords(): Plugin;
