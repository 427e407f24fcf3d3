import { useState } from "react";
import { styled } from "styled-components";
import { isEmptyText, plainText, readRichText } from "#core/rich-text";
import { Radio, Radios } from "../parts/radios";
import { settingWords } from "./change-words";
import { Button } from "../parts/form";
import { Note } from "../parts/marks";
import { Row, Small, Stack, Table } from "../parts/sheet";
import type { Overtaken } from "./use-draft";
import { t } from "../words/pages/offers-changes";

const Box = styled.div`
  max-height: 50vh;
  overflow: auto;
`;

const shown = (value: unknown): string => {
  if (value === undefined || value === "" || (Array.isArray(value) && value.length === 0)) return "nothing";
  if (!Array.isArray(value)) return typeof value === "string" ? value : JSON.stringify(value);
  if (value.every((one) => typeof one === "string")) return value.join(", ");
  const text = readRichText({ type: "doc", content: value });
  return text && !isEmptyText(text) ? plainText(text) : JSON.stringify(value);
};

/** What two people made of the same fields, side by side: of each, one is taken. */
export function BothVersions({
  overtaken,
  person,
  number,
}: {
  overtaken: Overtaken;
  person: string;
  number: number;
}) {
  const [theirs, setTheirs] = useState<ReadonlySet<string>>(new Set());
  const choose = (path: string, take: boolean) => {
    const next = new Set(theirs);
    if (take) next.add(path);
    else next.delete(path);
    setTheirs(next);
  };
  return (
    <Note meaning="waits">
      <Stack $gap={0.5}>
        <p>
          <strong>{person}</strong> {t("saved-revision-number-meanwhile-what", { number })}
        </p>
        <Box>
          <Table>
            <thead>
              <tr>
                <th scope="col">{t("setting")}</th>
                <th scope="col">{t("yours")}</th>
                <th scope="col">{t("theirs")}</th>
              </tr>
            </thead>
            <tbody>
              {overtaken.conflicts.map((one) => {
                const words = settingWords(one.path);
                return (
                  <tr key={one.path}>
                    <td>{words}</td>
                    <Radios
                      as={null}
                      label={words}
                      value={theirs.has(one.path) ? "theirs" : "yours"}
                      onChange={(whose) => choose(one.path, whose === "theirs")}
                    >
                      <td>
                        <Radio value="yours" label={t("words-yours", { words })}>
                          {shown(one.mine)}
                        </Radio>
                      </td>
                      <td>
                        <Radio value="theirs" label={t("words-theirs", { words })}>
                          {shown(one.theirs)}
                        </Radio>
                      </td>
                    </Radios>
                  </tr>
                );
              })}
            </tbody>
          </Table>
        </Box>
        <Row>
          <Button type="button" $kind="main" onClick={() => overtaken.settle(theirs)}>
            {t("go-on-with-these")}
          </Button>
          <Small>{t("nothing-is-saved-by-that")}</Small>
        </Row>
      </Stack>
    </Note>
  );
}
