import { Bookmark, X } from "lucide-react";
import { useState } from "react";
import { Link, useFetcher, useLocation } from "react-router";
import { styled } from "styled-components";
import { Button, Wrong } from "../parts/form";
import { Row } from "../parts/sheet";
import { TextBox } from "../parts/text-box";
import { color } from "../theme/tokens";
import { t } from "../words/pages/parts";

const Kept = styled.span`
  display: inline-flex;
  align-items: center;
  border: 1px solid ${color.rule};
  a {
    padding: 0.15rem 0.1rem 0.15rem 0.6rem;
  }
  a[aria-current] {
    font-weight: 700;
    text-decoration: none;
  }
`;

interface View {
  id: string;
  name: string;
  /** What narrows the list, as it stands in the address. */
  query: string;
}

/** Lists that people come back to; what the filter says now can be kept as one more. */
export function SavedViews({
  views,
  narrowed,
  clear,
}: {
  views: readonly View[];
  narrowed: boolean;
  /** The address of the list that nothing narrows. */
  clear: string;
}) {
  const fetcher = useFetcher<{ ok: boolean; says: string }>();
  const [naming, setNaming] = useState(false);
  const [name, setName] = useState("");
  const { search } = useLocation();
  if (views.length === 0 && !narrowed) return null;
  const shown = new URLSearchParams(search);
  const isShown = ({ query }: View) =>
    [...new URLSearchParams(query)].every(([key, value]) => shown.get(key) === value);
  const send = (fields: Record<string, string>) => void fetcher.submit(fields, { method: "post" });
  return (
    <Row $gap={0.5}>
      {views.map((one) => (
        <Kept key={one.id}>
          <Link to={`?${one.query}`} aria-current={isShown(one) ? "page" : undefined}>
            {one.name}
          </Link>
          <Button
            type="button"
            $kind="bare"
            aria-label={t("forget-the-view-name", { name: one.name })}
            onClick={() => send({ press: "forget-view", view: one.id })}
          >
            <X size={13} aria-hidden />
          </Button>
        </Kept>
      ))}
      {narrowed &&
        (naming ? (
          <>
            <TextBox
              label={t("name-of-this-view")}
              value={name}
              maxLength={60}
              size={16}
              autoFocus
              onChange={setName}
            />
            <Button
              type="button"
              disabled={name.trim() === ""}
              onClick={() => {
                setNaming(false);
                setName("");
                send({ press: "save-view", name, query: search });
              }}
            >
              {t("keep-it")}
            </Button>
            <Button type="button" $kind="bare" onClick={() => setNaming(false)}>
              {t("leave-it")}
            </Button>
          </>
        ) : (
          <Button type="button" $kind="bare" onClick={() => setNaming(true)}>
            <Bookmark size={13} aria-hidden /> {t("keep-this-view")}
          </Button>
        ))}
      {narrowed && (
        <Button as={Link} to={clear} $kind="bare">
          {t("clear-the-filter")}
        </Button>
      )}
      {fetcher.data && !fetcher.data.ok && <Wrong>{fetcher.data.says}</Wrong>}
    </Row>
  );
}
