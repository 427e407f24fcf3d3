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

export const meta: Route.MetaFunction = () => [{ title: "The shop’s side · Zahlung" }];

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
  if (form.get("press") !== "make" || !isMode(mode)) throw data("That cannot be done here.", { status: 400 });
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
          <h1>The shop’s side of {name}</h1>
          <p>
            A shop opens checkouts and hears news by the shop API. It needs a key for each mode, the address
            of the API, and nothing else.
          </p>
        </div>
      </PageHead>
      <Sheet>
        <Stack>
          <h2>Address of the shop API</h2>
          <Row>
            <CopyValue value={api} />
            <a href={`${api}/openapi.json`}>Its description (OpenAPI)</a>
          </Row>
        </Stack>
      </Sheet>
      {modes.map((mode) => (
        <Keys key={mode} mode={mode} keys={keys.filter((key) => key.mode === mode)} />
      ))}
      <Sheet>
        <Stack>
          <h2>What the shop has said</h2>
          <p>
            Order stages:{" "}
            {stages.length ? (
              stages.join(", ")
            ) : (
              <Small as="span">none declared yet; the shop declares them with its key.</Small>
            )}
          </p>
          {modes.map((mode) => {
            const address = news.find((one) => one.mode === mode)?.address;
            return (
              <Row key={mode}>
                <ModePlate mode={mode} />
                {address ? (
                  <span>
                    news goes to <Mono>{address}</Mono>
                  </span>
                ) : (
                  <Small>it has not said where it listens.</Small>
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
    <Sheet aria-label={`${mode} keys`}>
      <Stack>
        <Row>
          <ModePlate mode={mode} />
          <h2>Keys</h2>
        </Row>
        {issued && (
          <Note meaning="waits">
            <p>Shown this once. Put it into the shop now:</p>
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
                  <td>
                    made <When at={key.createdAt} />
                  </td>
                  <td>
                    {key.usedAt ? (
                      <Says meaning="proven">
                        used, last <When at={key.usedAt} />
                      </Says>
                    ) : (
                      <Says meaning="none">never used</Says>
                    )}
                  </td>
                  <td className="amount">
                    <AskFirst
                      label="Revoke"
                      name={`Revoke key ending in ${key.hint}`}
                      title={`Revoke the ${mode} key …${key.hint}?`}
                      says={`Calls with it are refused from then on${
                        key.usedAt ? `: the shop cannot open ${mode} checkouts until it has another` : ""
                      }. It cannot be brought back.`}
                      yes="Revoke it"
                      no="Keep it"
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
            Make a {mode} key
          </Button>
        </fetcher.Form>
      </Stack>
    </Sheet>
  );
}
