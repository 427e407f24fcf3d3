import { useState } from "react";
import { Link, useFetcher } from "react-router";
import { styled } from "styled-components";
import { SelectBox } from "../parts/select-box";
import { bothValues } from "./changed";
import { settingWords } from "./change-words";
import { Button, Wrong } from "../parts/form";
import { Row, Sheet, Small, Stack, Table } from "../parts/sheet";
import { t } from "../words/pages/offers-changes";

interface Place {
  id: string;
  way: "provider" | "offline";
  storefrontId: string;
  storefront: string;
}

/** What of an offer is set elsewhere, what of it holds elsewhere, and which offers it could follow. */
export interface FollowingView {
  leader: (Place & { differs: { path: string; from: string | null; to: string | null }[] }) | null;
  followers: (Place & { own: number })[];
  leaders: { id: string; storefront: string; label: string }[];
}

const Folded = styled.details`
  summary {
    cursor: pointer;
    font-weight: 600;
    padding-block: 0.2rem;
  }
`;
const sheetOf = ({ storefrontId, way, id }: Place) =>
  `/s/${storefrontId}/offer/${way === "offline" ? "without/" : ""}${id}`;

/** Kept once, used in many places: which storefront leads, what is set here otherwise, and the way back to it. */
export function Following({
  following: { leader, followers, leaders },
  locale,
}: {
  following: FollowingView;
  locale: string;
}) {
  const fetcher = useFetcher<{ ok: boolean; clash?: string }>();
  const busy = fetcher.state !== "idle";
  if (!leader && followers.length === 0 && leaders.length === 0) return null;
  const submit = (form: Record<string, string>) => void fetcher.submit(form, { method: "post" });
  const wrong = <Wrong>{fetcher.data && !fetcher.data.ok ? fetcher.data.clash : null}</Wrong>;
  // Nothing is kept together yet: that it could be takes no room from the sheet.
  if (!leader && followers.length === 0)
    return (
      <Folded>
        <summary>{t("follow-an-offer-of-another")}</summary>
        <FollowOne leaders={leaders} busy={busy} onFollow={(id) => submit({ press: "follow", leader: id })} />
        {wrong}
      </Folded>
    );
  return (
    <Sheet aria-label={t("on-other-storefronts")}>
      <Stack $gap={0.7}>
        <h2>{t("on-other-storefronts")}</h2>
        {leader && (
          <>
            <p>
              {t("it-follows-link-what-is", { link: <Link to={sheetOf(leader)}>{leader.storefront}</Link> })}
            </p>
            {leader.differs.length === 0 ? (
              <Small>{t("nothing-is-set-here-otherwise")}</Small>
            ) : (
              <Table>
                <thead>
                  <tr>
                    <th scope="col">{t("set-here-otherwise")}</th>
                    <th scope="col">{t("there")}</th>
                    <th scope="col">{t("here")}</th>
                    <th scope="col">
                      <span className="quiet">{t("go-back-to-it")}</span>
                    </th>
                  </tr>
                </thead>
                <tbody>
                  {leader.differs.map((difference) => {
                    const { path } = difference;
                    const [there, here] = bothValues(difference, locale);
                    return (
                      <tr key={path}>
                        <td>{settingWords(path)}</td>
                        <td>{there}</td>
                        <td>{here}</td>
                        <td>
                          <Button
                            type="button"
                            $kind="bare"
                            disabled={busy}
                            aria-label={t("as-there-path", { path: settingWords(path) })}
                            onClick={() => submit({ press: "take", path })}
                          >
                            {t("as-there")}
                          </Button>
                        </td>
                      </tr>
                    );
                  })}
                </tbody>
              </Table>
            )}
            <Row>
              {leader.differs.length > 1 && (
                <Button type="button" disabled={busy} onClick={() => submit({ press: "take" })}>
                  {t("all-as-there")}
                </Button>
              )}
              <Button
                type="button"
                $kind="bare"
                disabled={busy}
                onClick={() => submit({ press: "follow-none" })}
              >
                {t("follow-no-longer")}
              </Button>
            </Row>
          </>
        )}
        {followers.length > 0 && (
          <>
            <p>{t("what-is-saved-here-holds")}</p>
            <ul>
              {followers.map((one) => (
                <li key={one.id}>
                  {t("on-link-own", {
                    link: <Link to={sheetOf(one)}>{one.storefront}</Link>,
                    own:
                      one.own === 0
                        ? t("nothing-is-set-otherwise")
                        : t("own-set-otherwise", { own: one.own }),
                    small: (inner) => <Small as="span">{inner}</Small>,
                  })}
                </li>
              ))}
            </ul>
          </>
        )}
        {wrong}
      </Stack>
    </Sheet>
  );
}

function FollowOne({
  leaders,
  busy,
  onFollow,
}: {
  leaders: FollowingView["leaders"];
  busy: boolean;
  onFollow: (id: string) => void;
}) {
  const [chosen, setChosen] = useState(leaders[0]?.id ?? "");
  return (
    <Row>
      <SelectBox
        label={t("the-offer-to-follow")}
        bare
        value={chosen}
        onChange={setChosen}
        choices={leaders.map((one) => ({
          id: one.id,
          name: t("label-on-storefront", { label: one.label, storefront: one.storefront }),
        }))}
      />
      <Button type="button" disabled={busy} onClick={() => onFollow(chosen)}>
        {t("follow-it")}
      </Button>
      <Small>{t("what-is-saved-there-would")}</Small>
    </Row>
  );
}
