import type { PageHosts } from "#server/profiles/profiles";

/** Headers of every page. Frames only from the hosts of installed profiles; nothing inline without the nonce. */
export function securityHeaders(
  nonce: string,
  { frames: frameHosts, forms: formHosts }: PageHosts,
  origin: string,
): [string, string][] {
  const frames = frameHosts.length ? frameHosts.join(" ") : "'none'";
  const dev = import.meta.env.DEV;
  const policy = [
    "default-src 'none'",
    `script-src 'nonce-${nonce}' 'strict-dynamic'`,
    // Vite's own styles in development come without the nonce.
    dev ? "style-src 'self' 'unsafe-inline'" : `style-src 'self' 'nonce-${nonce}'`,
    "img-src 'self' data:",
    "font-src 'self' data:",
    // Whether a provider's form comes at all is asked of its address; nothing of the answer can be read.
    `connect-src 'self' ${[...frameHosts, ...(dev ? ["ws:"] : [])].join(" ")}`.trim(),
    `frame-src ${frames}`,
    // A form that is answered with a provider's page, to pay there or to agree to a link, leads there.
    `form-action 'self' ${formHosts.join(" ")}`.trim(),
    "worker-src 'self'",
    "frame-ancestors 'none'",
    "base-uri 'none'",
    "manifest-src 'self'",
  ];
  return [
    ["content-security-policy", policy.filter(Boolean).join("; ")],
    ["x-content-type-options", "nosniff"],
    ["referrer-policy", "strict-origin-when-cross-origin"],
    ["cross-origin-opener-policy", "same-origin"],
    ["permissions-policy", "camera=(), microphone=(), geolocation=(), payment=()"],
    ["cache-control", "no-store"],
    ...(origin.startsWith("https:")
      ? [["strict-transport-security", "max-age=31536000"] satisfies [string, string]]
      : []),
  ];
}
