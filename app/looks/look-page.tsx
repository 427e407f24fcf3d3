import { useEffect, useRef, useState } from "react";
import { data, useBlocker, useFetcher } from "react-router";
import { styled } from "styled-components";
import { colourOf } from "#core/looks/colours";
import {
  accentTrouble,
  type Agreement,
  agreements,
  type Corner,
  corners,
  type Face,
  faces,
  groundTrouble,
  type Light,
  lights,
  type Look,
  standing,
  usualLook,
} from "#core/looks/look";
import { nameOfCode } from "#core/places/names";
import { signOf } from "#core/offers/decide";
import { candidatesIn } from "#server/offers/candidates";
import { dropLogo, looksOf, putLookLive, saveLook, setLogo, takeLookBack } from "#server/looks/looks";
import { wordsFor } from "../checkouts/words.server";
import { runtimeContext } from "../context";
import { formOf } from "../form-of";
import { mustStandAt } from "../frame/storefront-context";
import { AskFirst } from "../parts/ask";
import { Button, Check, Field, Select } from "../parts/form";
import { LeaveAsk } from "../parts/leave-ask";
import { Note, Says } from "../parts/marks";
import { PageHead, Pairs, Row, Sheet, Small, Stack } from "../parts/sheet";
import { TextBox } from "../parts/text-box";
import { mustOperate } from "../people/session";
import { color } from "../theme/tokens";
import { saysAt } from "../words/says-at";
import type { SpokenProblem } from "../words/speak";
import { spoken, tell } from "../words/spoken.server";
import { ColourBox } from "./colour-box";
import { LogoSheet } from "./logo-sheet";
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

const cornerNames: Record<Corner, string> = { square: "Square", soft: "A little round", round: "Round" };
const faceNames: Record<Face, string> = {
  plain: "Plain",
  serif: "With serifs",
  device: "The shopper’s device’s own",
};
const lightNames: Record<Light, string> = {
  device: "As the shopper’s device is set",
  light: "Always light",
  dark: "Always dark",
};
const agreementNames: Record<Agreement, string> = {
  none: "Not shown",
  told: "A link",
  required: "The shopper has to agree",
};

type Texts = Record<string, string>;

/** What stands in the boxes of a look. */
const textsOf = (look: Look): Texts => ({
  ...{ accent: look.accent, ground: look.ground, corner: look.corner, face: look.face, light: look.light },
  terms: look.terms.how,
  receipts: look.receipts ? "yes" : "",
  remembers: look.remembers ? "yes" : "",
  mostShown: look.mostShown > 0 ? String(look.mostShown) : "",
  mostButtons: look.mostButtons ? String(look.mostButtons) : "",
  ...look.support,
  ...Object.fromEntries(Object.entries(look.terms.links).map(([lang, link]) => [`terms-${lang}`, link])),
  ...Object.fromEntries(Object.entries(look.privacy).map(([lang, link]) => [`privacy-${lang}`, link])),
});

/** The look that stands in the boxes, as far as it can be shown already. */
function drafted(texts: Texts, saved: Look, languages: readonly string[]): Look {
  const links = (name: string) =>
    Object.fromEntries(
      languages.flatMap((one) => (texts[`${name}-${one}`] ? [[one, texts[`${name}-${one}`] ?? ""]] : [])),
    );
  const chosen = <T extends string>(all: readonly T[], name: string, usual: T): T =>
    all.find((one) => one === texts[name]) ?? usual;
  return {
    ...saved,
    accent: colourOf(texts.accent ?? "") ?? "",
    ground: colourOf(texts.ground ?? "") ?? "",
    corner: chosen(corners, "corner", "square"),
    face: chosen(faces, "face", "plain"),
    light: chosen(lights, "light", "device"),
    terms: { how: chosen(agreements, "terms", "none"), links: links("terms") },
    privacy: links("privacy"),
    support: { email: texts.email ?? "", phone: texts.phone ?? "", page: texts.page ?? "" },
    receipts: texts.receipts === "yes",
    mostShown: /^\d{1,2}$/.test(texts.mostShown ?? "") ? Number(texts.mostShown) : 0,
  };
}

const isSame = (one: Texts, other: Texts) =>
  [...new Set([...Object.keys(one), ...Object.keys(other)])].every(
    (name) => (one[name] ?? "") === (other[name] ?? ""),
  );

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
              <Sheet>
                <Stack>
                  <h2>Colours and type</h2>
                  <Pairs>
                    <ColourBox
                      name="accent"
                      label="Accent"
                      hint="Of presses, links and what is chosen. Empty: ours."
                      usual={standing.light.accent}
                      text={texts.accent ?? ""}
                      onText={put("accent")}
                      trouble={accentTrouble(look)}
                      wrong={wrong("accent")}
                    />
                    <ColourBox
                      name="ground"
                      label="Ground"
                      hint={
                        look.light === "dark"
                          ? "Behind everything. Empty: ours."
                          : "Behind everything, where the page is light. Empty: ours."
                      }
                      usual={look.light === "dark" ? standing.dark.paper : standing.light.paper}
                      text={texts.ground ?? ""}
                      onText={put("ground")}
                      trouble={groundTrouble(look)}
                      wrong={wrong("ground")}
                    />
                    <Choice name="light" label="Light" names={lightNames} texts={texts} put={put} />
                    <Choice name="corner" label="Corners" names={cornerNames} texts={texts} put={put} />
                    <TextBox
                      name="mostShown"
                      label="Ways of paying shown at once"
                      hint="The others open under “More ways to pay”. Empty: all."
                      inputMode="numeric"
                      maxLength={2}
                      placeholder="All"
                      value={texts.mostShown ?? ""}
                      onChange={put("mostShown")}
                      wrong={wrong("mostShown")}
                    />
                    <TextBox
                      name="mostButtons"
                      label="Buttons that pay, on one of the shop’s pages"
                      hint="The first so many of the offers’ order. Empty: all."
                      inputMode="numeric"
                      maxLength={2}
                      placeholder="All"
                      value={texts.mostButtons ?? ""}
                      onChange={put("mostButtons")}
                      wrong={wrong("mostButtons")}
                    />
                    <Choice name="face" label="Type" names={faceNames} texts={texts} put={put} />
                  </Pairs>
                  <Check>
                    <input
                      type="checkbox"
                      name="remembers"
                      value="yes"
                      checked={texts.remembers === "yes"}
                      onChange={(event) => put("remembers")(event.currentTarget.checked ? "yes" : "")}
                    />
                    Choose again what the same e-mail address was paid with last
                  </Check>
                  <Small>
                    An accent that would be hard to read in the other light is made lighter or darker there by
                    itself.
                  </Small>
                </Stack>
              </Sheet>
              <Sheet>
                <Stack>
                  <h2>Terms, privacy and help</h2>
                  <Choice name="terms" label="Terms of sale" names={agreementNames} texts={texts} put={put} />
                  {languages.map((language) => (
                    <Pairs key={language}>
                      {texts.terms !== "none" && (
                        <TextBox
                          name={`terms-${language}`}
                          type="url"
                          label={`Terms in ${nameOfCode("language", language)}`}
                          value={texts[`terms-${language}`] ?? ""}
                          onChange={put(`terms-${language}`)}
                          wrong={wrong(`terms-${language}`)}
                          hint={missing(texts, "terms", language, languages)}
                        />
                      )}
                      <TextBox
                        name={`privacy-${language}`}
                        type="url"
                        label={`Privacy in ${nameOfCode("language", language)}`}
                        value={texts[`privacy-${language}`] ?? ""}
                        onChange={put(`privacy-${language}`)}
                        wrong={wrong(`privacy-${language}`)}
                        hint={missing(texts, "privacy", language, languages)}
                      />
                    </Pairs>
                  ))}
                  <Pairs>
                    {(
                      [
                        ["email", "E-mail for questions", "email"],
                        ["phone", "Telephone for questions", "tel"],
                        ["page", "Page with help", "url"],
                      ] as const
                    ).map(([name, label, type]) => (
                      <TextBox
                        key={name}
                        name={name}
                        type={type}
                        label={label}
                        value={texts[name] ?? ""}
                        onChange={put(name)}
                        wrong={wrong(name)}
                      />
                    ))}
                  </Pairs>
                </Stack>
              </Sheet>
              <Sheet>
                <Stack>
                  <h2>Receipts</h2>
                  <Check>
                    <input
                      type="checkbox"
                      name="receipts"
                      value="yes"
                      checked={texts.receipts === "yes"}
                      onChange={(event) => put("receipts")(event.currentTarget.checked ? "yes" : "")}
                    />
                    Send shoppers their receipts by e-mail
                  </Check>
                  <Small>
                    When an order is placed that is still to be paid, with how to pay it; when it is paid;
                    when money goes back. In the shopper’s language, to the address that the shop gives with
                    the order. Answers go to the e-mail for questions.
                  </Small>
                  {!mails && texts.receipts === "yes" && (
                    <Says meaning="waits">
                      No mail server is set (ZAHLUNG_SMTP_URL): receipts wait until one is.
                    </Says>
                  )}
                </Stack>
              </Sheet>
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

/** Says that shoppers of a language are led to a text in another. */
function missing(texts: Texts, name: string, language: string, languages: readonly string[]) {
  const other = languages.find((one) => texts[`${name}-${one}`]);
  return !texts[`${name}-${language}`] && other
    ? `Missing: these shoppers are led to the one in ${nameOfCode("language", other)}.`
    : undefined;
}

function Choice<T extends string>({
  name,
  label,
  names,
  texts,
  put,
}: {
  name: string;
  label: string;
  names: Record<T, string>;
  texts: Texts;
  put: (name: string) => (text: string) => void;
}) {
  return (
    <Field>
      {label}
      <Select name={name} value={texts[name]} onChange={(event) => put(name)(event.currentTarget.value)}>
        {Object.entries<string>(names).map(([id, text]) => (
          <option key={id} value={id}>
            {text}
          </option>
        ))}
      </Select>
    </Field>
  );
}
