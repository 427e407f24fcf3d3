import { data, useFetcher } from "react-router";
import { isMode, type Mode, modes } from "#core/mode";
import { apiKeysOf, issueApiKey, newsAddressesOf, revokeApiKey } from "#server/storefronts/storefronts";
import { runtimeContext } from "../context";
import { mustFindStorefront } from "../frame/storefront-context";
import { mustOperate } from "../people/session";
import { AskFirst } from "../parts/ask";
import { CopyValue } from "../parts/copy";
import { Button } from "../parts/form";
import { useLive } from "../parts/live";
import { ModePlate, Note, Says } from "../parts/marks";
import { Mono, PageHead, Row, Sheet, Small, Stack, Table } from "../parts/sheet";
import { When } from "../parts/when";
import type { Route } from "./+types/shop";
import { t } from "../words/pages/shop";

export const meta: Route.MetaFunction = () => [{ title: t("the-shops-side-zahlung") }];

export async function loader({ params, context }: Route.LoaderArgs) {
  const rt = context.get(runtimeContext);
  const storefront = await mustFindStorefront(context, params.storefront);
  const [keys, news] = await Promise.all([apiKeysOf(rt, storefront.id), newsAddressesOf(rt, storefront.id)]);
  return {
    name: storefront.name,
    stages: storefront.stages,
    api: `${rt.settings.origin}/api/v1`,
    keys: keys
      .filter((key) => !key.revokedAt)
      .map(({ id, mode, hint, createdAt, usedAt }) => ({ id, mode, hint, createdAt, usedAt })),
    news,
  };
}

export async function action({ request, params, context }: Route.ActionArgs) {
  const { rt, person } = mustOperate(context);
  const storefront = await mustFindStorefront(context, params.storefront);
  const form = await request.formData();
  if (form.get("press") === "revoke") {
    await revokeApiKey(rt, person.email, storefront.id, String(form.get("key") ?? ""));
    return { issued: null };
  }
  const mode = form.get("mode");
  if (form.get("press") !== "make" || !isMode(mode))
    throw data(t("that-cannot-be-done-here"), { status: 400 });
  return { issued: await issueApiKey(rt, person.email, storefront.id, mode) };
}

export default function Shop({ loaderData }: Route.ComponentProps) {
  const { name, stages, api, keys, news } = loaderData;
  useLive(
    keys.some((key) => !key.usedAt),
    1500,
  );
  return (
    <Stack $gap={1.3}>
      <PageHead>
        <div>
          <h1>{t("the-shops-side-of-name", { name })}</h1>
          <p>{t("a-shop-opens-checkouts-and")}</p>
        </div>
      </PageHead>
      <Sheet>
        <Stack>
          <h2>{t("address-of-the-shop-api")}</h2>
          <Row>
            <CopyValue value={api} />
            <a href={`${api}/openapi.json`}>{t("its-description-open-api")}</a>
          </Row>
        </Stack>
      </Sheet>
      {modes.map((mode) => (
        <Keys key={mode} mode={mode} keys={keys.filter((key) => key.mode === mode)} />
      ))}
      <Sheet>
        <Stack>
          <h2>{t("what-the-shop-has-said")}</h2>
          <p>
            {t("order-stages")}{" "}
            {stages.length ? stages.join(", ") : <Small as="span">{t("none-declared-yet-the-shop")}</Small>}
          </p>
          {modes.map((mode) => {
            const address = news.find((one) => one.mode === mode)?.address;
            return (
              <Row key={mode}>
                <ModePlate mode={mode} />
                {address ? (
                  <span>
                    {t("news-goes-to")} <Mono>{address}</Mono>
                  </span>
                ) : (
                  <Small>{t("it-has-not-said-where")}</Small>
                )}
              </Row>
            );
          })}
        </Stack>
      </Sheet>
    </Stack>
  );
}

type KeyView = Route.ComponentProps["loaderData"]["keys"][number];

function Keys({ mode, keys }: { mode: Mode; keys: KeyView[] }) {
  const fetcher = useFetcher<{ issued: string | null }>();
  const issued = fetcher.data?.issued;
  return (
    <Sheet aria-label={t("mode-keys", { mode })}>
      <Stack>
        <Row>
          <ModePlate mode={mode} />
          <h2>{t("keys")}</h2>
        </Row>
        {issued && (
          <Note meaning="waits">
            <p>{t("shown-this-once-put-it")}</p>
            <CopyValue value={issued} />
          </Note>
        )}
        {keys.length > 0 && (
          <Table>
            <tbody>
              {keys.map((key) => (
                <tr key={key.id}>
                  <td>
                    <Mono>…{key.hint}</Mono>
                  </td>
                  <td>{t("made-when", { when: <When at={key.createdAt} /> })}</td>
                  <td>
                    {key.usedAt ? (
                      <Says meaning="proven">{t("used-last-when", { when: <When at={key.usedAt} /> })}</Says>
                    ) : (
                      <Says meaning="none">{t("never-used")}</Says>
                    )}
                  </td>
                  <td className="amount">
                    <AskFirst
                      label={t("revoke")}
                      name={t("revoke-key-ending-in-hint", { hint: key.hint })}
                      title={t("revoke-the-mode-key-hint", { mode, hint: key.hint })}
                      says={t("calls-with-it-are-refused", { hasUsedAt: key.usedAt ? "yes" : "no", mode })}
                      yes={t("revoke-it")}
                      no={t("keep-it")}
                      onYes={() => void fetcher.submit({ press: "revoke", key: key.id }, { method: "post" })}
                    />
                  </td>
                </tr>
              ))}
            </tbody>
          </Table>
        )}
        <fetcher.Form method="post">
          <input type="hidden" name="mode" value={mode} />
          <Button name="press" value="make" disabled={fetcher.state !== "idle"}>
            {t("make-a-mode-key", { mode })}
          </Button>
        </fetcher.Form>
      </Stack>
    </Sheet>
  );
}
