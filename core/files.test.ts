import fc from "fast-check";
import { expect, it } from "vitest";
import { fileKinds, fileName, kindOfFile } from "./files";

const bytes = (...list: (number | string)[]) =>
  Buffer.concat(list.map((one) => (typeof one === "string" ? Buffer.from(one) : Buffer.from([one]))));

it("knows a file by what is in it, not by its name", () => {
  expect(kindOfFile(bytes("%PDF-1.7 ..."))).toBe("application/pdf");
  expect(kindOfFile(bytes(0x89, "PNG\r\n", 0x1a, "\n", "..."))).toBe("image/png");
  expect(kindOfFile(bytes(0xff, 0xd8, 0xff, 0xe0))).toBe("image/jpeg");
  expect(kindOfFile(bytes("<svg onload=alert(1)>"))).toBeNull();
  expect(kindOfFile(bytes("%PD"))).toBeNull();
  expect(kindOfFile(new Uint8Array())).toBeNull();
});

it("whatever it is given, names one of its kinds or none, and a name without a path", () => {
  fc.assert(
    fc.property(fc.uint8Array(), fc.string({ unit: "binary" }), (content, name) => {
      expect([null, ...fileKinds]).toContain(kindOfFile(content));
      const made = fileName(name);
      expect(made.length).toBeGreaterThan(0);
      expect(made.length).toBeLessThanOrEqual(100);
      expect(made).not.toMatch(/[/\\\n\0]/);
    }),
  );
  expect(fileName("C:\\scans\\receipt 7.pdf")).toBe("receipt 7.pdf");
});
