import { expect, it } from "vitest";
import { csvResponse } from "./csv";

it("gives no cell that a spreadsheet would take for a formula", async () => {
  const file = csvResponse(
    "list",
    ["Order", "Amount"],
    [
      ['=HYPERLINK("http://x")', 12.5],
      ["+1", null],
      ["@x", -3],
      ['a "b", c', "-1+2"],
    ],
  );
  expect(file.headers.get("content-disposition")).toBe('attachment; filename="list.csv"');
  expect((await file.text()).split("\r\n")).toEqual([
    "Order,Amount",
    `"'=HYPERLINK(""http://x"")",12.5`,
    `"'+1",`,
    `"'@x",-3`,
    `"a ""b"", c","'-1+2"`,
  ]);
});
