import { useEffect, useRef, useState } from "react";
import { data, useBlocker, useFetcher } from "react-router";
import { styled } from "styled-components";
import { usualLook } from "#core/looks/look";
import { signOf } from "#core/offers/decide";
import { candidatesIn } from "#server/offers/candidates";
import { dropLogo, looksOf, putLookLive, saveLook, setLogo, takeLookBack } from "#server/looks/looks";
import { wordsFor } from "../checkouts/words.server";
import { runtimeContext } from "../context";
import { formOf } from "../form-of";
import { mustStandAt } from "../frame/storefront-context";
import { AskFirst } from "../parts/ask";
import { Button } from "../parts/form";
import { LeaveAsk } from "../parts/leave-ask";
import { Note, Says } from "../parts/marks";
import { PageHead, Row, Stack } from "../parts/sheet";
import { mustOperate } from "../people/session";
import { color } from "../theme/tokens";
import { saysAt } from "../words/says-at";
import type { SpokenProblem } from "../words/speak";
import { spoken, tell } from "../words/spoken.server";
import { drafted, isSame, type Texts, textsOf } from "./draft";
import { LogoSheet } from "./logo-sheet";
import { ColourFields, ReceiptFields, TermFields } from "./look-fields";
import { Preview } from "./preview";
import type { Route } from "./+types/look-page";
import { t } from "../words/pages/looks";

export const meta: Route.MetaFunction = () => [{ title: t("look-of-the-checkout-zahlung") }];

export async function loader({ params, context }: Route.LoaderArgs) {
  const now = await mustStandAt(context, params.storefront);
  const { storefront } = now;
  const rt = context.get(runtimeContext);
  const looks = await looksOf(rt, storefront.id);
  return {
    ...looks,
    mails: rt.settings.smtpUrl !== null,
    name: storefront.name,
    country: storefront.country,
    currency: storefront.currencies[0] ?? "EUR",
    languages: storefront.languages,
    words: Object.fromEntries(storefront.languages.map((one) => [one, wordsFor(one)])),
    offers: candidatesIn(now, "test")
      .slice(0, 10)
      .map((one) => ({ id: one.id, wording: one.document.wording, sign: signOf(one) })),
  };
}

interface Answer {
  done: string | null;
  problems: SpokenProblem[];
}

const refused = (problems: SpokenProblem[]) => data<Answer>({ done: null, problems }, { status: 422 });
const done = (what: string) => data<Answer>({ done: what, problems: [] });

export async function action({ request, params, context }: Route.ActionArgs) {
  const { rt, person } = mustOperate(context);
  const { storefront } = await mustStandAt(context, params.storefront);
  const form = await formOf(request);
  const who = person.email;
  switch (form.get("press")) {
    case "save": {
      const entry = Object.fromEntries(
        [...form].map(([name, value]) => [name, typeof value === "string" ? value : ""]),
      );
      const saved = await saveLook(rt, who, storefront, entry);
      return saved.ok ? done(t("saved-checkouts-in-test-look")) : refused(spoken(saved.problems));
    }
    case "logo": {
      const file = form.get("logo");
      if (!(file instanceof File)) throw data(t("no-picture-came-with-this"), { status: 400 });
      const kept = await setLogo(rt, who, storefront.id, file);
      return kept.ok ? done(t("the-logo-is-kept")) : refused([{ path: "logo", says: tell(kept.says) }]);
    }
    case "no-logo":
      await dropLogo(rt, who, storefront.id);
      return done(t("the-logo-is-taken-away"));
    case "live":
      await putLookLive(rt, who, storefront.id);
      return done(t("live-shoppers-see-this-look"));
    case "back":
      await takeLookBack(rt, who, storefront.id);
      return done(t("everything-is-as-live-shoppers"));
    default:
      throw data(t("that-cannot-be-done-here"), { status: 400 });
  }
}

const Halves = styled.div`
  display: grid;
  grid-template-columns: minmax(0, 1fr) minmax(22rem, 27rem);
  gap: 1.5rem;
  align-items: start;
  @media (max-width: 60rem) {
    grid-template-columns: minmax(0, 1fr);
  }
`;
const Beside = styled.div`
  position: sticky;
  top: 1rem;
  min-width: 0;
`;
const SaveBar = styled.div`
  position: sticky;
  bottom: 0;
  background: ${color.paper};
  border-top: 1.5px solid ${color.ink};
  padding: 0.7rem 0;
  display: grid;
  gap: 0.5rem;
`;

/** How the shop's pages for its shoppers look and what stands on each of them, beside what a shopper would see. */
export default function LookPage({ loaderData, params }: Route.ComponentProps) {
  return <LookSheet key={params.storefront} {...loaderData} />;
}

type LookProps = Route.ComponentProps["loaderData"];

function LookSheet({ working, live, languages, mails, ...shop }: LookProps) {
  const fetcher = useFetcher<Answer>();
  const saved = textsOf(working);
  const [texts, setTexts] = useState<Texts>(saved);
  const dirty = !isSame(texts, saved);
  const put = (name: string) => (text: string) => setTexts((before) => ({ ...before, [name]: text }));
  const idle = fetcher.state === "idle";
  const problems = idle ? (fetcher.data?.problems ?? []) : [];
  const refusal = problems.length > 0;
  const wrong = (path: string) => saysAt(problems, path);
  const look = drafted(texts, working, languages);
  const blocker = useBlocker(
    ({ currentLocation, nextLocation }) =>
      dirty && nextLocation.pathname !== "/sign-in" && currentLocation.pathname !== nextLocation.pathname,
  );
  useEffect(() => {
    if (!dirty) return;
    const ask = (event: BeforeUnloadEvent) => event.preventDefault();
    window.addEventListener("beforeunload", ask);
    return () => window.removeEventListener("beforeunload", ask);
  }, [dirty]);
  // What was saved or taken back comes into the boxes; what is typed and not saved yet stays, whoever saved meanwhile.
  const known = JSON.stringify(saved);
  const before = useRef(known);
  const sent = useRef<Texts>({});
  useEffect(() => {
    const [was, is] = [JSON.parse(before.current) as Texts, JSON.parse(known) as Texts];
    before.current = known;
    setTexts((mine) => {
      const names = [...new Set([...Object.keys(mine), ...Object.keys(is)])];
      const untouched = (name: string) =>
        [was[name], sent.current[name]].some((one) => (one ?? "") === (mine[name] ?? ""));
      return Object.fromEntries(names.map((name) => [name, (untouched(name) ? is[name] : mine[name]) ?? ""]));
    });
    sent.current = {};
  }, [known]);
  useEffect(() => {
    // What was refused is not saved: it is typed, like the rest.
    if (refusal) sent.current = {};
  }, [refusal]);
  const differs = JSON.stringify(working) !== JSON.stringify(live ?? usualLook);
  const press = (what: string) => void fetcher.submit({ press: what }, { method: "post" });
  return (
    <>
      <PageHead>
        <div>
          <h1>{t("look-of-the-checkout")}</h1>
          <p>{t("logo-colours-and-type-of")}</p>
        </div>
        <Row>
          {differs ? (
            <Says meaning="waits">
              {t("live-shoppers-see-an-earlier", { noLive: live === null ? "yes" : "no" })}
            </Says>
          ) : (
            <Says meaning="proven">{t("live-shoppers-see-it")}</Says>
          )}
          {differs && (
            <AskFirst
              label={t("put-it-live")}
              kind="plain"
              title={t("show-this-look-to-live")}
              says={t("every-checkout-that-is-open")}
              yes={t("put-it-live")}
              no={t("not-yet")}
              disabled={dirty || !idle}
              onYes={() => press("live")}
            />
          )}
        </Row>
      </PageHead>
      <Halves>
        <Stack $gap={1.3}>
          <LogoSheet logo={working.logo} onPress={press} fetcher={fetcher} wrong={wrong("logo")} />
          <fetcher.Form method="post" noValidate onSubmit={() => (sent.current = texts)}>
            <Stack $gap={1.3}>
              <ColourFields look={look} texts={texts} put={put} wrong={wrong} />
              <TermFields languages={languages} texts={texts} put={put} wrong={wrong} />
              <ReceiptFields mails={mails} texts={texts} put={put} />
              <SaveBar>
                <Row>
                  <Button $kind="main" name="press" value="save" disabled={!idle}>
                    {t("save")}
                  </Button>
                  {live !== null && differs && !dirty && (
                    <AskFirst
                      label={t("take-it-back")}
                      title={t("take-back-what-was-changed")}
                      says={t("the-look-becomes-what-live")}
                      yes={t("take-it-back")}
                      no={t("keep-it")}
                      onYes={() => press("back")}
                    />
                  )}
                  {dirty && <Says meaning="waits">{t("not-saved-yet")}</Says>}
                </Row>
                {idle && problems.length > 0 && <Note meaning="wrong">{t("not-saved-what-is-wrong")}</Note>}
                {idle && fetcher.data?.done && !dirty && <Note meaning="proven">{fetcher.data.done}</Note>}
              </SaveBar>
            </Stack>
          </fetcher.Form>
        </Stack>
        <Beside>
          <Preview look={look} languages={languages} {...shop} />
        </Beside>
      </Halves>
      <LeaveAsk blocker={blocker} says={t("what-you-have-changed-about")} />
    </>
  );
}
