import { useRef } from "react";
import { data, Link, useFetcher, useRevalidator } from "react-router";
import { styled } from "styled-components";
import { usualLook } from "#core/looks/look";
import { signOf } from "#core/offers/decide";
import { candidatesIn } from "#server/offers/candidates";
import { dropLogo, looksOf, putLookLive, saveLook, setLogo, takeLookBack } from "#server/looks/looks";
import { wordsFor } from "../checkouts/words.server";
import { personContext, runtimeContext } from "../context";
import { formOf } from "../form-of";
import { mustStandAt } from "../frame/storefront-context";
import { useAnswer } from "../parts/answer";
import { AskFirst } from "../parts/ask";
import { BothVersions } from "../parts/both-versions";
import { Button } from "../parts/form";
import { LeaveAsk } from "../parts/leave-ask";
import { Note, Says } from "../parts/marks";
import { PageHead, Row, Stack } from "../parts/sheet";
import { useDraft } from "../parts/use-draft";
import { mustOperate } from "../people/session";
import { listed } from "../words/listed";
import { color } from "../theme/tokens";
import { saysAt } from "../words/says-at";
import type { SpokenProblem } from "../words/speak";
import { spoken, tell } from "../words/spoken.server";
import { drafted, isSame, type Texts, textsOf } from "./draft";
import { LogoSheet } from "./logo-sheet";
import { ColourFields, nameOfField, ReceiptFields, TermFields, valueOfField } from "./look-fields";
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
    id: storefront.id,
    person: context.get(personContext).email,
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
  /** What was saved, by its number. */
  revision?: number;
  /** Somebody changed it since: what they made of it is to be looked at first. */
  overtaken?: boolean;
}

const refused = (problems: SpokenProblem[]) => data<Answer>({ done: null, problems }, { status: 422 });
const overtaken = () => data<Answer>({ done: null, problems: [], overtaken: true }, { status: 409 });
const done = (what: string, revision?: number) =>
  data<Answer>({ done: what, problems: [], ...(revision !== undefined && { revision }) });

export async function action({ request, params, context }: Route.ActionArgs) {
  const { rt, person } = mustOperate(context);
  const { storefront } = await mustStandAt(context, params.storefront);
  const form = await formOf(request);
  const who = person.email;
  const seen = form.has("basedOn") ? { basedOn: Number(form.get("basedOn")) } : {};
  switch (form.get("press")) {
    case "save": {
      const entry = Object.fromEntries(
        [...form].map(([name, value]) => [name, typeof value === "string" ? value : ""]),
      );
      const saved = await saveLook(rt, who, storefront, entry, seen);
      if (saved.ok) return done(t("saved-checkouts-in-test-look"), saved.revision);
      return "overtaken" in saved ? overtaken() : refused(spoken(saved.problems));
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
      if (!(await putLookLive(rt, who, storefront.id, seen))) return overtaken();
      return done(t("live-shoppers-see-this-look"));
    case "back":
      if (!(await takeLookBack(rt, who, storefront.id, seen))) return overtaken();
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

function LookSheet({ working, live, revision, id, person, languages, mails, ...shop }: LookProps) {
  const fetcher = useFetcher<Answer>();
  const name = `draft ${person} look ${id}`;
  const saved = textsOf(working);
  const {
    draft: texts,
    overtaken: both,
    dirty,
    basedOn,
    edit,
    confirm,
    forget,
    takenIn,
    blocker,
  } = useDraft<Texts>(name, revision, saved, (one) =>
    isSame(textsOf(drafted(one, working, languages)), saved),
  );
  const put = (field: string) => (text: string) => edit({ [field]: text });
  const idle = fetcher.state === "idle";
  const answer = idle ? fetcher.data : undefined;
  const problems = answer?.problems ?? [];
  const wrong = (path: string) => saysAt(problems, path);
  const look = drafted(texts, working, languages);
  const sent = useRef({ texts, name });
  const { revalidate } = useRevalidator();
  useAnswer(fetcher.data, (one) => {
    if (one.revision !== undefined) confirm(one.revision, sent.current.texts, sent.current.name);
    else if (one.overtaken) void revalidate();
  });
  const differs = JSON.stringify(working) !== JSON.stringify(live ?? usualLook);
  const press = (what: string) =>
    void fetcher.submit({ press: what, basedOn: String(revision) }, { method: "post" });
  return (
    <>
      <PageHead>
        <div>
          <h1>{t("look-of-the-checkout")}</h1>
          <p>{t("logo-colours-and-type-of")}</p>
        </div>
        <Row>
          {revision > 0 && <Link to="revisions">{t("earlier-looks")}</Link>}
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
          <fetcher.Form method="post" noValidate onSubmit={() => (sent.current = { texts, name })}>
            <input type="hidden" name="basedOn" value={basedOn} />
            <Stack $gap={1.3}>
              <ColourFields look={look} texts={texts} put={put} wrong={wrong} />
              <TermFields languages={languages} texts={texts} put={put} wrong={wrong} />
              <ReceiptFields mails={mails} texts={texts} put={put} />
              <SaveBar>
                {both && (
                  <BothVersions
                    overtaken={both}
                    says={t("somebody-saved-this-look-meanwhile", {
                      b: (inner) => <strong>{inner}</strong>,
                    })}
                    nameOf={nameOfField}
                    reads={valueOfField}
                  />
                )}
                {takenIn.length > 0 && dirty && (
                  <Note meaning="waits">
                    {t("somebody-saved-this-look-taken-in", {
                      takenIn: listed(takenIn.map(nameOfField)),
                    })}
                  </Note>
                )}
                <Row>
                  <Button $kind="main" name="press" value="save" disabled={!idle || both !== null}>
                    {t("save")}
                  </Button>
                  {dirty && (
                    <Button type="button" onClick={forget}>
                      {t("discard")}
                    </Button>
                  )}
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
                  {both ? (
                    <Says meaning="waits">{t("choose-above-which-goes-on")}</Says>
                  ) : (
                    dirty && <Says meaning="waits">{t("not-saved-yet")}</Says>
                  )}
                </Row>
                {problems.length > 0 && <Note meaning="wrong">{t("not-saved-what-is-wrong")}</Note>}
                {answer?.overtaken && !both && <Note meaning="wrong">{t("not-saved-somebody-saved")}</Note>}
                {answer?.done && !dirty && <Note meaning="proven">{answer.done}</Note>}
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
