import qrCode from "qrcode";
import type { ScanCode } from "#core/scan-code";

/** A text as a code to scan. */
export function scanCode(text: string): ScanCode {
  const { size, data } = qrCode.create(text, { errorCorrectionLevel: "M" }).modules;
  const dark = Array.from(data).flatMap((one, i) =>
    one ? [`M${i % size} ${Math.floor(i / size)}h1v1h-1z`] : [],
  );
  return { text, size, path: dark.join("") };
}
