import { expect, it } from "vitest";
import { dayIn, dayStart, momentText, zoneOf } from "./zone";

const asked = (cookie: string) => new Request("http://localhost/", { headers: { cookie } });

it("writes a moment in the viewer's zone", () => {
  const at = Date.UTC(2026, 8, 30, 22, 5);
  expect(momentText(at, "UTC", at)).toBe("30 Sep, 22:05");
  expect(momentText(at, "Europe/Berlin", at)).toBe("1 Oct, 00:05");
  expect(momentText(at, "America/St_Johns", at)).toBe("30 Sep, 19:35");
  // Far from now, in either direction, the year is no longer plain.
  const year = 365 * 86_400_000;
  expect(momentText(at, "UTC", at + year)).toMatch(/^30 Sep \d{4}, 22:05$/);
  expect(momentText(at, "UTC", at - year)).toMatch(/^30 Sep \d{4}, 22:05$/);
});

it("knows the zone that the browser remembered, and nothing else", () => {
  expect(zoneOf(asked("a=b; zahlung_zone=Europe%2FBerlin"))).toBe("Europe/Berlin");
  expect(zoneOf(asked("zahlung_zone=America%2FArgentina%2FBuenos_Aires"))).toBe(
    "America/Argentina/Buenos_Aires",
  );
  expect(zoneOf(asked("zahlung_zone=Etc%2FGMT%2B5"))).toBe("Etc/GMT+5");
  expect(zoneOf(asked("zahlung_zone=%E0%A4%A"))).toBeNull();
  expect(zoneOf(asked("zahlung_zone=Narnia"))).toBeNull();
  expect(zoneOf(asked("zahlung_zone=%3Cb%3E"))).toBeNull();
  expect(zoneOf(asked(""))).toBeNull();
});

it("gives each zone one name however it is spelled, and goes on after more spellings than it keeps", () => {
  const spelled = (at: number) =>
    [..."europe/berlin"].map((letter, i) => ((at >> i) & 1 ? letter.toUpperCase() : letter)).join("");
  for (let at = 0; at < 1_100; at++)
    expect(zoneOf(asked(`zahlung_zone=${encodeURIComponent(spelled(at))}`))).toBe("Europe/Berlin");
});

it("knows when the day began where the viewer is", () => {
  const at = Date.parse("2026-11-26T00:30:15.250Z");
  expect(new Date(dayStart(at, "UTC")).toISOString()).toBe("2026-11-26T00:00:00.000Z");
  expect(new Date(dayStart(at, "Europe/Berlin")).toISOString()).toBe("2026-11-25T23:00:00.000Z");
  expect(new Date(dayStart(at, "America/New_York")).toISOString()).toBe("2026-11-25T05:00:00.000Z");
});

it("knows when a day begins and ends in the outermost zones, and on a day that has 23 hours", () => {
  const ends = (text: string, zone: string) => {
    const day = dayIn(text, zone);
    return day && [new Date(day.from).toISOString(), new Date(day.to + 1).toISOString()];
  };
  expect(ends("2026-11-25", "UTC")).toEqual(["2026-11-25T00:00:00.000Z", "2026-11-26T00:00:00.000Z"]);
  expect(ends("2026-11-25", "Pacific/Kiritimati")).toEqual([
    ...["2026-11-24T10:00:00.000Z", "2026-11-25T10:00:00.000Z"],
  ]);
  expect(ends("2026-11-25", "Pacific/Pago_Pago")).toEqual([
    ...["2026-11-25T11:00:00.000Z", "2026-11-26T11:00:00.000Z"],
  ]);
  expect(ends("2026-03-29", "Europe/Berlin")).toEqual([
    "2026-03-28T23:00:00.000Z",
    "2026-03-29T22:00:00.000Z",
  ]);
  expect(ends("2026-10-25", "Europe/Berlin")).toEqual([
    "2026-10-24T22:00:00.000Z",
    "2026-10-25T23:00:00.000Z",
  ]);
  expect([dayIn("", "UTC"), dayIn("yesterday", "UTC"), dayIn("2026-02-31", "UTC")]).toEqual([
    null,
    null,
    null,
  ]);
});
