/** What Playwright turns off by itself; a list of one's own takes the place of its list. */
const turnedOff = [
  "AvoidUnnecessaryBeforeUnloadCheckSync",
  "DestroyProfileOnBrowserClose",
  "HttpsUpgrades",
  "HttpsFirstBalancedModeAutoEnable",
  "LensOverlay",
  "MediaRouter",
  "PaintHolding",
  "ThirdPartyStoragePartitioning",
  "AvoidCorsURLLoaderRestartOnRedirect",
  "OptimizationHints",
  "NetworkTimeServiceQuerying",
  "AimEnabled",
  "PreconnectToSearch",
];
/** The pages that the browser's own address bar is made of: it is never seen, and takes a second for each new window. */
const addressBar = ["WebUIOmniboxPopup", "WebUIOmniboxAimPopup", "WebUIOmniboxFullPopup"];

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
    `--disable-features=${[...turnedOff, ...addressBar].join(",")}`,
  ],
};
