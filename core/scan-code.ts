/** A code to scan: its text, and a QR code (ISO/IEC 18004) of it as an SVG path of `size` modules a side. */
export interface ScanCode {
  text: string;
  size: number;
  path: string;
}
