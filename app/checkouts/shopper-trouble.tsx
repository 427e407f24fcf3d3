import { isRouteErrorResponse } from "react-router";
import { Button } from "../parts/form";
import { isLostConnection, useReturn } from "../parts/reach";
import { Stack } from "../parts/sheet";
import lostWords from "../words/lost.json";
import { Card, CheckoutPage, Column } from "./checkout-view";
import type { Missing } from "./missing.server";
import { ScriptFont } from "./script-font";
import { directionOf } from "./words";

const isMissing = (data: unknown): data is Missing =>
  typeof data === "object" && data !== null && "language" in data && "title" in data;

const missingIn = (error: unknown): Missing | null =>
  isRouteErrorResponse(error) && isMissing(error.data) ? error.data : null;

/** What is said where nobody here knows what became of a request, in the language of the browser. */
function lostIn(language = typeof navigator === "undefined" ? "en" : navigator.language) {
  const known = lostWords as Record<string, typeof lostWords.en>;
  return { language, words: known[language.split("-")[0] ?? ""] ?? lostWords.en };
}

/** What the window of a shopper's page is called that could not be shown. */
export const titleOfTrouble = (error: unknown): string => missingIn(error)?.title ?? lostIn().words.lost;

/**
 * A shopper's page that could not be shown. Where nothing is, the server has said so; else nobody here knows whether a
 * payment went through: the page is asked for again, which shows where it stands and cannot charge twice.
 */
export function ShopperTrouble({ error }: { error: unknown }) {
  useReturn(isLostConnection(error));
  const missing = missingIn(error);
  const { language, words } = lostIn(missing?.language);
  const says = missing ? missing.says : words.lostSays;
  return (
    <CheckoutPage $test={false} as="main" lang={language} dir={directionOf(language)}>
      <ScriptFont language={language} face="plain" />
      <Column>
        <Card role="alert">
          <Stack>
            <h1>{missing?.title ?? words.lost}</h1>
            {says && <p>{says}</p>}
            {!missing && (
              <Button as="a" href="" $kind="main">
                {words.lookAgain}
              </Button>
            )}
          </Stack>
        </Card>
      </Column>
    </CheckoutPage>
  );
}
