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

export const meta: Route.MetaFunction = () => [{ title: "Look of the checkout · Zahlung" }];

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
      return saved.ok
        ? done("Saved. Checkouts in test look like this from now on.")
        : refused(spoken(saved.problems));
    }
    case "logo": {
      const file = form.get("logo");
      if (!(file instanceof File)) throw data("No picture came with this.", { status: 400 });
      const kept = await setLogo(rt, who, storefront.id, file);
      return kept.ok ? done("The logo is kept.") : refused([{ path: "logo", says: tell(kept.says) }]);
    }
    case "no-logo":
      await dropLogo(rt, who, storefront.id);
      return done("The logo is taken away. The name stands in its place.");
    case "live":
      await putLookLive(rt, who, storefront.id);
      return done("Live shoppers see this look now.");
    case "back":
      await takeLookBack(rt, who, storefront.id);
      return done("Everything is as live shoppers see it.");
    default:
      throw data("That cannot be done here.", { status: 400 });
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
          <h1>Look of the checkout</h1>
          <p>
            Logo, colours and type of every page that shoppers see here, and what stands at its foot. Test
            shows it as saved; live shoppers see it once you put it live.
          </p>
        </div>
        <Row>
          {differs ? (
            <Says meaning="waits">
              Live shoppers see {live === null ? "the plain look" : "an earlier look"}
            </Says>
          ) : (
            <Says meaning="proven">Live shoppers see this look</Says>
          )}
          {differs && (
            <AskFirst
              label="Put it live"
              kind="plain"
              title="Show this look to live shoppers?"
              says="Every checkout that is open or opened from now on looks like this, with its terms and links."
              yes="Put it live"
              no="Not yet"
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
                    Save
                  </Button>
                  {live !== null && differs && !dirty && (
                    <AskFirst
                      label="Take it back"
                      title="Take back what was changed?"
                      says="The look becomes what live shoppers see. What was worked on is lost."
                      yes="Take it back"
                      no="Keep it"
                      onYes={() => press("back")}
                    />
                  )}
                  {dirty && <Says meaning="waits">Not saved yet</Says>}
                </Row>
                {idle && problems.length > 0 && (
                  <Note meaning="wrong">Not saved. What is wrong stands at its field.</Note>
                )}
                {idle && fetcher.data?.done && !dirty && <Note meaning="proven">{fetcher.data.done}</Note>}
              </SaveBar>
            </Stack>
          </fetcher.Form>
        </Stack>
        <Beside>
          <Preview look={look} languages={languages} {...shop} />
        </Beside>
      </Halves>
      <LeaveAsk blocker={blocker} says="What you have changed about the look is lost." />
    </>
  );
}
