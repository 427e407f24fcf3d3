import { startTransition } from "react";
import { hydrateRoot } from "react-dom/client";
import { HydratedRouter } from "react-router/dom";

// Data that was still being read for a page that was left is given up: that is no error, and nobody waits for it.
addEventListener("unhandledrejection", (event) => {
  if (event.reason instanceof DOMException && event.reason.name === "AbortError") event.preventDefault();
});

startTransition(() => {
  hydrateRoot(document, <HydratedRouter />);
});
