import { useState } from "react";
import { useFetcher } from "react-router";
import type { Column as SaidColumn, FileColumn as SaidFileColumn } from "#server/connections/handshake";
import { CopyValue } from "../parts/copy";
import { Says } from "../parts/marks";
import { Small, Stack } from "../parts/sheet";
import { When } from "../parts/when";
import { Act } from "./act";
import type { Answer } from "./presses";
import type { Spoken } from "../words/speak";
import { FileBox } from "../parts/file-box";
import { t } from "../words/pages/connections";

type Column = Spoken<SaidColumn>;
type FileColumn = Spoken<SaidFileColumn>;

const LONGEST_FILE = 100_000;

/** The domain file: taken as it was downloaded, looked for on the shop, and looked for by the provider itself. */
export function FileCell({
  column: { mode },
  file,
  name,
}: {
  column: Column;
  file: FileColumn;
  name: string;
}) {
  return (
    <Stack $gap={0.55}>
      <Small>{t("on-the-shop-it-has")}</Small>
      <CopyValue value={file.address} />
      <TakeFile mode={mode} />
      {file.takenAt !== null && (
        <Says meaning={file.provider?.ok ? "proven" : "waits"}>
          {t("brought-here-when", { when: <When at={file.takenAt} /> })}
        </Says>
      )}
      {file.findings.map((finding) => (
        <Says key={finding.says} meaning={finding.blocking ? "wrong" : "waits"} role="status">
          {finding.says}
        </Says>
      ))}
      {file.provider && (
        <Says meaning={file.provider.ok ? "proven" : "wrong"} role="status">
          {t("name-says-says", { name, says: file.provider.says })}
        </Says>
      )}
      {file.lookedAt !== null && <Small>{t("looked-when", { when: <When at={file.lookedAt} /> })}</Small>}
      <Act mode={mode} press="look" words={t("look-and-have-name-look", { name })} busyWords={t("looking")} />
    </Stack>
  );
}

function TakeFile({ mode }: { mode: Column["mode"] }) {
  const fetcher = useFetcher<Answer>();
  const [tooLong, setTooLong] = useState(false);
  const take = async (chosen: File) => {
    setTooLong(chosen.size > LONGEST_FILE);
    if (chosen.size > LONGEST_FILE) return;
    void fetcher.submit(
      { press: "file", mode, name: chosen.name, text: await chosen.text() },
      { method: "post" },
    );
  };
  return (
    <FileBox
      label={t("domain-file-mode", { mode })}
      press={t("choose-the-file")}
      hint={t("as-you-downloaded-it-or")}
      wrong={
        tooLong ? t("no-domain-file-is-that") : fetcher.data && !fetcher.data.kept ? fetcher.data.says : null
      }
      onFile={(file) => void take(file)}
    />
  );
}
