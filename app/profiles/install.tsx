import { lazy, Suspense, useEffect, useState } from "react";
import { data, useFetcher } from "react-router";
import { styled } from "styled-components";
import { type DocumentProblem as SaidDocumentProblem, LONGEST_DOCUMENT } from "#core/profiles/limits";
import { installDocument, lookAtDocument, type Looked as SaidLooked } from "#server/profiles/install";
import { said } from "#core/said";
import { leadOn } from "../frame/lead-on.server";
import { mustOwn } from "../people/session";
import { Button } from "../parts/form";
import { Note } from "../parts/marks";
import { Mono, PageHead, Row, Sheet, Small, Stack } from "../parts/sheet";
import { color } from "../theme/tokens";
import { spoken } from "../words/spoken.server";
import type { Route } from "./+types/install";
import type { Spoken } from "../words/speak";
import { FileBox } from "../parts/file-box";
import { t } from "../words/pages/profiles";

type DocumentProblem = Spoken<SaidDocumentProblem>;
type Looked = Spoken<SaidLooked>;

export const meta: Route.MetaFunction = () => [{ title: t("install-a-profile-zahlung") }];

/** What was read, without the document itself. */
type Answer = Extract<Looked, { ok: false }> | Omit<Extract<Looked, { ok: true }>, "profile">;

export async function action({ request, context }: Route.ActionArgs) {
  const { rt, person } = mustOwn(context);
  const form = await request.formData();
  const text = String(form.get("text") ?? "");
  if (form.get("press") === "install") {
    const installed = await installDocument(rt, person.email, text);
    if (installed.ok) {
      const { name, version } = installed.profile;
      return leadOn("/profiles", said("done.profile-installed", { provider: name, version }));
    }
    return data<Answer>(spoken(installed), { status: 422 });
  }
  const looked = await lookAtDocument(rt, text);
  if (!looked.ok) return data<Answer>(spoken(looked), { status: 422 });
  const { profile: _, ...told } = looked;
  return spoken(told) satisfies Answer;
}

const Editor = lazy(() => import("./editor"));

const Plain = styled.textarea`
  width: 100%;
  min-height: 16rem;
  font-family: var(--mono);
  font-size: 0.86rem;
  border: 1.5px solid ${color.ruleStrong};
  background: ${color.sheet};
  padding: 0.5rem;
`;
const Halves = styled.div`
  display: grid;
  grid-template-columns: repeat(2, minmax(0, 1fr));
  gap: 1rem 2rem;
  @media (max-width: 55rem) {
    grid-template-columns: minmax(0, 1fr);
  }
  ul {
    list-style: disc;
    padding-left: 1.1rem;
  }
`;
const Differs = styled.ul`
  font-family: var(--mono);
  font-size: 0.82rem;
  max-height: 16rem;
  overflow-y: auto;
  padding: 0.5rem;
  background: ${color.sunk};
  li {
    overflow-wrap: anywhere;
  }
`;

export default function Install() {
  const fetcher = useFetcher<Answer>();
  const [text, setText] = useState("");
  const [asked, setAsked] = useState("");
  const [awake, setAwake] = useState(false);
  const [tooLong, setTooLong] = useState(false);
  useEffect(() => setAwake(true), []);
  const answer = text === asked ? fetcher.data : undefined;
  const problems = answer && !answer.ok ? answer.problems : none;
  const read = (press: "look" | "install") => {
    const long = text.length > LONGEST_DOCUMENT;
    setTooLong(long);
    if (long) return;
    setAsked(text);
    void fetcher.submit({ press, text }, { method: "post" });
  };
  const take = async (file: File) => {
    const long = file.size > LONGEST_DOCUMENT;
    setTooLong(long);
    if (!long) setText(await file.text());
  };
  return (
    <>
      <PageHead>
        <div>
          <h1>{t("install-a-profile-from-a")}</h1>
          <p>{t("it-is-read-and-shown")}</p>
        </div>
      </PageHead>
      <Stack $gap={1.1}>
        <Sheet aria-label={t("the-document")}>
          <Stack $gap={0.8}>
            <FileBox
              label={t("profile-file")}
              press={t("choose-the-file")}
              hint={t("or-drop-it-here-or")}
              accept=".json,application/json"
              wrong={
                tooLong
                  ? t("at-most-longestdocument-letters-are", { LONGESTDOCUMENT: LONGEST_DOCUMENT })
                  : null
              }
              onFile={(file) => void take(file)}
            />
            {awake ? (
              <Suspense fallback={<Small>{t("the-editor-is-coming")}</Small>}>
                <Editor text={text} problems={problems} onText={setText} />
              </Suspense>
            ) : (
              <Plain aria-label={t("the-document")} readOnly />
            )}
            {problems.length > 0 && (
              <Note meaning="wrong">
                <ul>
                  {problems.map((one) => (
                    <li key={`${one.line}${one.at}${one.says}`}>
                      {t("line-line-at-says", {
                        line: one.line,
                        at: one.at && <Mono>{one.at}</Mono>,
                        says: one.says,
                      })}
                    </li>
                  ))}
                </ul>
              </Note>
            )}
            <Row>
              <Button
                type="button"
                $kind="main"
                disabled={text.trim() === "" || fetcher.state !== "idle"}
                onClick={() => read("look")}
              >
                {t("reading", { idle: fetcher.state === "idle" ? "yes" : "no" })}
              </Button>
            </Row>
          </Stack>
        </Sheet>
        {answer?.ok && (
          <InPlainWords answer={answer} onInstall={() => read("install")} busy={fetcher.state !== "idle"} />
        )}
      </Stack>
    </>
  );
}

const none: readonly DocumentProblem[] = [];

function InPlainWords({
  answer: { words, installed },
  onInstall,
  busy,
}: {
  answer: Extract<Answer, { ok: true }>;
  onInstall: () => void;
  busy: boolean;
}) {
  const list = (title: string, lines: readonly string[]) => (
    <div>
      <h3>{title}</h3>
      <ul>
        {lines.map((line) => (
          <li key={line}>{line}</li>
        ))}
      </ul>
    </div>
  );
  const same = installed && installed.differs.gone.length + installed.differs.new.length === 0;
  return (
    <Sheet aria-label={t("in-plain-words")}>
      <Stack>
        <h2>{t("in-plain-words")}</h2>
        {words.who.map((line) => (
          <p key={line}>{line}</p>
        ))}
        <Halves>
          {list(t("zahlung-will-call"), words.calls)}
          {list(
            t("people-will-be-shown"),
            words.shows.length > 0 ? words.shows : [t("nothing-of-it-but-its")],
          )}
          {list(t("it-will-ask-you-for"), words.asksFor)}
          {list(t("it-can"), words.can)}
        </Halves>
        {installed && (
          <Stack $gap={0.4}>
            <h3>{t("against-version-version-which-is", { version: installed.version })}</h3>
            {same && <p>{t("nothing-differs")}</p>}
            {installed.differs.gone.length > 0 && (
              <>
                <Small>{t("goes")}</Small>
                <Differs tabIndex={0} aria-label={t("goes")}>
                  {installed.differs.gone.map((line) => (
                    <li key={line}>{line}</li>
                  ))}
                </Differs>
              </>
            )}
            {installed.differs.new.length > 0 && (
              <>
                <Small>{t("comes")}</Small>
                <Differs tabIndex={0} aria-label={t("comes")}>
                  {installed.differs.new.map((line) => (
                    <li key={line}>{line}</li>
                  ))}
                </Differs>
              </>
            )}
            {installed.usedBy.length > 0 && (
              <p>{t("used-by-will-go-on", { usedBy: installed.usedBy.join(", ") })}</p>
            )}
          </Stack>
        )}
        <Row>
          <Button type="button" $kind="main" onClick={onInstall} disabled={busy}>
            {t("install-it", { hasInstalled: installed ? "yes" : "no" })}
          </Button>
        </Row>
      </Stack>
    </Sheet>
  );
}
