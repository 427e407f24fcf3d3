/**
 * The scheme of an app's own address, such as `com.example.app:/orders/7` (RFC 8252, section 7.1: a domain name turned
 * around, so that it holds a dot). Null where an address is none. Nothing that a browser runs or reads itself has a dot.
 */
export function appSchemeOf(address: string): string | null {
  const scheme = URL.canParse(address) ? new URL(address).protocol.slice(0, -1) : "";
  return isAppScheme(scheme) ? scheme : null;
}

export const isAppScheme = (scheme: string): boolean =>
  scheme.length <= 100 && /^[a-z][a-z0-9+-]*(\.[a-z0-9+-]+)+$/.test(scheme);
