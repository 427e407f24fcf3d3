import { existsSync, readdirSync, readFileSync, statSync } from "node:fs";
import { dirname, join, relative } from "node:path";
import { expect, it } from "vitest";

// How the files of the application hang together, by their imports.

const rooms = ["core", "server", "app"];
const root = process.cwd();

const files = (folder: string): string[] =>
  readdirSync(folder).flatMap((name) => {
    const path = join(folder, name);
    if (statSync(path).isDirectory()) return files(path);
    return /\.tsx?$/.test(name) && !/\.test\.tsx?$/.test(name) ? [path] : [];
  });

/** The file that an import leads to, within the rooms; null for packages and what is generated. */
function target(from: string, specifier: string): string | null {
  const alias = /^#(core|server)\/(.*)$/.exec(specifier);
  const path = alias
    ? join(root, String(alias[1]), String(alias[2]))
    : specifier.startsWith(".")
      ? join(dirname(from), specifier)
      : null;
  return (path && [".ts", ".tsx"].map((ending) => path + ending).find((one) => existsSync(one))) ?? null;
}

/** File → the files that it imports, types too. */
const imports = new Map(
  rooms
    .flatMap((room) => files(join(root, room)))
    .map((file) => {
      const text = readFileSync(file, "utf8");
      const specifiers = [...text.matchAll(/(?:from|import)\s*\(?\s*"([^"]+)"/g)].map((one) =>
        String(one[1]),
      );
      return [file, specifiers.flatMap((one) => target(file, one) ?? [])];
    }),
);

/** Circles: groups of files that can all be reached from each other (Tarjan's strongly connected components). */
function circles(): string[][] {
  const index = new Map<string, number>();
  const low = new Map<string, number>();
  const stack: string[] = [];
  const found: string[][] = [];
  const visit = (file: string) => {
    index.set(file, index.size);
    low.set(file, index.get(file) ?? 0);
    stack.push(file);
    for (const next of imports.get(file) ?? []) {
      if (!index.has(next)) {
        visit(next);
        low.set(file, Math.min(low.get(file) ?? 0, low.get(next) ?? 0));
      } else if (stack.includes(next)) low.set(file, Math.min(low.get(file) ?? 0, index.get(next) ?? 0));
    }
    if (low.get(file) !== index.get(file)) return;
    const group = stack.splice(stack.indexOf(file));
    if (group.length > 1) found.push(group.map((one) => relative(root, one)).sort());
  };
  for (const file of imports.keys()) if (!index.has(file)) visit(file);
  return found;
}

it("no files import each other in a circle, not for a type either", () => {
  expect(imports.size).toBeGreaterThan(150);
  expect(circles()).toEqual([]);
});
