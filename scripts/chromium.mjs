/** How Debian's Chromium is started for browser tests and pictures: without a sandbox of its own and without a word to the outside. */
export const chromiumOptions = {
  executablePath: "/usr/bin/chromium",
  args: [
    "--no-sandbox",
    "--disable-gpu",
    "--disable-quic",
    "--no-first-run",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
  ],
};
