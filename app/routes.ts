import { index, layout, prefix, route, type RouteConfig } from "@react-router/dev/routes";

export default [
  route("sign-in", "people/sign-in.tsx"),
  route("sign-out", "people/sign-out.ts"),
  route("welcome/:token", "people/welcome.tsx"),
  ...prefix("pay/:token", [index("checkout/pay.tsx"), route("back", "checkout/back.ts")]),
  layout("frame/signed-in.tsx", [
    index("home/first-storefront.ts"),
    route("audit", "audit/audit.tsx"),
    route("people", "people/people-page.tsx"),
    route("link/back", "connect/link-back.tsx"),
    route("storefronts/new", "storefronts/new-storefront.tsx"),
    route("s/:storefront", "frame/storefront.tsx", [
      index("home/home.tsx"),
      route("plan", "plan/plan.tsx"),
      route("connect", "connect/first-connection.tsx"),
      route("connect/:connection", "connect/handshake.tsx"),
      route("exchanges", "exchanges/exchanges.tsx"),
      route("exchanges.har", "exchanges/har.ts"),
      route("offer", "offer/first-offer.tsx"),
      route("offer/:offer", "offer/edit-offer.tsx"),
      route("rehearse", "rehearse/board.tsx"),
      route("rehearse/:proof", "rehearse/proof.tsx"),
      route("cut-over", "cut-over/interlocking.tsx"),
      route("operate", "operate/payments.tsx"),
      route("operate/webhooks", "operate/webhooks.tsx"),
      route("operate/:payment", "operate/payment.tsx"),
      route("shop", "shop/shop.tsx"),
    ]),
  ]),
  route("*", "frame/not-found.tsx"),
] satisfies RouteConfig;
