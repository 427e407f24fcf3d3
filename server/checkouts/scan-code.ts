import qrCode from "qrcode";

/** A code to scan: its text, and a QR code (ISO/IEC 18004) of it as an SVG path of `size` modules a side. */
export interface ScanCode {
  text: string;
  size: number;
  path: string;
}

export function scanCode(text: string): ScanCode {
  const { size, data } = qrCode.create(text, { errorCorrectionLevel: "M" }).modules;
  const dark = Array.from(data).flatMap((one, i) =>
    one ? [`M${i % size} ${Math.floor(i / size)}h1v1h-1z`] : [],
  );
  return { text, size, path: dark.join("") };
}
