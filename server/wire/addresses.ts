import { type Said, said } from "#core/said";
import { lookup } from "node:dns/promises";
import { BlockList, isIP } from "node:net";
import type { Settings } from "../settings";

const privateRanges = new BlockList();
for (const [net, bits] of [
  ["0.0.0.0", 8],
  ["10.0.0.0", 8],
  ["100.64.0.0", 10],
  ["127.0.0.0", 8],
  ["169.254.0.0", 16],
  ["172.16.0.0", 12],
  ["192.0.0.0", 24],
  ["192.168.0.0", 16],
  ["198.18.0.0", 15],
  ["224.0.0.0", 3],
] as const) {
  privateRanges.addSubnet(net, bits, "ipv4");
}
for (const [net, bits] of [
  ["::", 127],
  ["64:ff9b::", 96],
  ["fc00::", 7],
  ["fe80::", 10],
  ["ff00::", 8],
] as const) {
  privateRanges.addSubnet(net, bits, "ipv6");
}

/** Whether an address lies in a private or reserved range. An IPv4 address written as IPv6 counts as what it is. */
export function isPrivate(ip: string): boolean {
  const plain = ip.replace(/^::ffff:(?=\d+\.)/i, "");
  return privateRanges.check(plain, isIP(plain) === 6 ? "ipv6" : "ipv4");
}

/**
 * Why an address given by a profile or a shop must not be called, or undefined. Private ranges are refused
 * unless the operator allows them; so are other schemes and user names in the address.
 */
export async function addressRefused(
  rt: { settings: Pick<Settings, "allowPrivateAddresses"> },
  address: string,
): Promise<Said | undefined> {
  if (!URL.canParse(address)) return said("addresses.not-address");
  const url = new URL(address);
  if (url.protocol !== "https:" && url.protocol !== "http:")
    return said("addresses.only-http-https-addresses");
  if (url.username || url.password) return said("addresses.address-must-not-carry");
  if (rt.settings.allowPrivateAddresses) return undefined;
  if (url.protocol !== "https:") return said("addresses.only-https-addresses-called");
  const host = url.hostname.replace(/^\[|\]$/g, "");
  try {
    const found = isIP(host) ? [{ address: host }] : await lookup(host, { all: true });
    if (found.some((one) => isPrivate(one.address))) return said("addresses.leads-into-private-network");
  } catch {
    return said("addresses.host-no-address");
  }
  return undefined;
}
