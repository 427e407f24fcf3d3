import { type ReactNode, useState } from "react";
import { styled } from "styled-components";
import { isEmptyText, plainText, readRichText } from "#core/rich-text";
import { t } from "../words/pages/two-people";
import { Button } from "./form";
import { Note } from "./marks";
import { Radio, Radios } from "./radios";
import { Row, Small, Stack, Table } from "./sheet";
import type { Overtaken } from "./use-draft";

const Box = styled.div`
  max-height: 50vh;
  overflow: auto;
`;

const shown = (value: unknown): string => {
  if (value === undefined || value === "" || (Array.isArray(value) && value.length === 0))
    return t("nothing");
  if (!Array.isArray(value)) return typeof value === "string" ? value : JSON.stringify(value);
  if (value.every((one) => typeof one === "string")) return value.join(", ");
  const text = readRichText({ type: "doc", content: value });
  return text && !isEmptyText(text) ? plainText(text) : JSON.stringify(value);
};

/**
 * What two people made of the same fields, side by side: of each, one is taken. `says` who did what meanwhile; `nameOf` is
 * the name of a field by its path, and `reads` how a value of it reads, where it is no plain text.
 */
export function BothVersions({
  overtaken,
  says,
  nameOf,
  reads,
}: {
  overtaken: Overtaken;
  says: ReactNode;
  nameOf: (path: string) => string;
  reads?: (path: string, value: unknown) => string | undefined;
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
          {says} {t("what-only-they-changed-is")}
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
                const words = nameOf(one.path);
                const read = (value: unknown) => reads?.(one.path, value) ?? shown(value);
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
                          {read(one.mine)}
                        </Radio>
                      </td>
                      <td>
                        <Radio value="theirs" label={t("words-theirs", { words })}>
                          {read(one.theirs)}
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
