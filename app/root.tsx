import "@fontsource-variable/overpass/wght.css";
import "@fontsource-variable/spline-sans-mono/wght.css";
import { useEffect } from "react";
import {
  isRouteErrorResponse,
  Links,
  Meta,
  Outlet,
  Scripts,
  ScrollRestoration,
  useRouteLoaderData,
} from "react-router";
import type { Route } from "./+types/root";
import { themeOf } from "./frame/theme-cookie";
import { nonceContext } from "./context";
import { OutOfReach, Trouble } from "./frame/trouble";
import { useNonce } from "./nonce";
import { isLostConnection } from "./parts/reach";
import { rememberZone, zoneOf } from "./parts/zone";
import "./theme/theme.css";
import { t } from "./words/pages/everywhere";

export const links: Route.LinksFunction = () => [
  { rel: "icon", href: "/favicon.svg", type: "image/svg+xml" },
];

/** For pages that have none of their own, such as one that could not be brought. */
export const meta: Route.MetaFunction = () => [{ title: "Zahlung" }];

export function loader({ request, context }: Route.LoaderArgs) {
  context.get(nonceContext);
  return { theme: themeOf(request), zone: zoneOf(request) };
}

/** Theme and zone are read with the document; a page that reads its data again need not ask for them. */
export const shouldRevalidate = () => false;

export function Layout({ children }: { children: React.ReactNode }) {
  const nonce = useNonce();
  const data = useRouteLoaderData<typeof loader>("root");
  return (
    <html lang="en" {...(data?.theme && { "data-theme": data.theme })} suppressHydrationWarning>
      <head>
        <meta charSet="utf-8" />
        <meta name="viewport" content="width=device-width, initial-scale=1" />
        <meta property="csp-nonce" nonce={nonce} />
        <Meta />
        <Links nonce={nonce} />
      </head>
      <body>
        {children}
        <ScrollRestoration nonce={nonce} />
        <Scripts nonce={nonce} />
      </body>
    </html>
  );
}

export default function Root({ loaderData }: Route.ComponentProps) {
  useEffect(() => rememberZone(loaderData.zone), [loaderData.zone]);
  return <Outlet />;
}

export function ErrorBoundary({ error }: Route.ErrorBoundaryProps) {
  if (isRouteErrorResponse(error)) {
    const says = typeof error.data === "string" && error.data ? error.data : error.statusText;
    return <Trouble status={error.status} says={says} />;
  }
  if (isLostConnection(error)) return <OutOfReach />;
  return <Trouble status={500} says={t("something-broke-at-our-side")} />;
}
