import { describe, expect, it } from "vitest";
import { sortedBy } from "./sorted";

const rows = [
  { name: "Zoe", at: 5 },
  { name: "ärmel", at: 10 },
  { name: "file 10", at: 1 },
  { name: "file 9", at: 1 },
];
const by = { name: (row: { name: string }) => row.name, at: (row: { at: number }) => row.at };
const names = (sort: string | null) => sortedBy(rows, sort, by).map(({ name }) => name);

describe("a short list", () => {
  it("stands as it came where nothing, or nothing that there is, is asked for", () => {
    for (const sort of [null, "", "-", "size", "constructor", "-toString"])
      expect(names(sort)).toEqual(rows.map(({ name }) => name));
  });

  it("is ordered as people read, either way", () => {
    expect(names("name")).toEqual(["ärmel", "file 9", "file 10", "Zoe"]);
    expect(names("-name")).toEqual(["Zoe", "file 10", "file 9", "ärmel"]);
  });

  it("orders figures by what they are worth, and leaves what is alike as it came", () => {
    expect(names("at")).toEqual(["file 10", "file 9", "Zoe", "ärmel"]);
    expect(names("-at")).toEqual(["ärmel", "Zoe", "file 10", "file 9"]);
    expect(rows[0]?.name).toBe("Zoe");
  });
});
