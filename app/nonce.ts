import { createContext, useContext } from "react";

export const NonceContext = createContext("");

/** The nonce for this response's scripts and styles. In the browser it is read from the page's own meta element. */
export function useNonce(): string {
  const given = useContext(NonceContext);
  if (given || typeof document === "undefined") return given;
  return document.querySelector<HTMLMetaElement>('meta[property="csp-nonce"]')?.nonce ?? "";
}
