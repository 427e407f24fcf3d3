import { Form } from "react-router";
import type { Column as SaidColumn } from "#server/connections/handshake";
import { Button } from "../parts/form";
import { Says } from "../parts/marks";
import { Small, Stack } from "../parts/sheet";
import { When } from "../parts/when";
import type { Spoken } from "../words/speak";

type Column = Spoken<SaidColumn>;

/** Linking: the account's owner agrees over there, and the keys come by themselves. */
export function LinkCell({ column: { mode, link }, name }: { column: Column; name: string }) {
  return (
    <Stack $gap={0.5}>
      {link?.state === "linked" && (
        <Says meaning="proven" role="status">
          linked <When at={link.at} />
        </Says>
      )}
      {link && link.state !== "linked" && link.says && (
        <Says meaning="wrong" role="alert">
          {link.says}
        </Says>
      )}
      {link?.state === "under-way" && (
        <Says meaning="waits">
          begun <When at={link.at} />; {name} waits for somebody to agree
        </Says>
      )}
      <Form method="post">
        <input type="hidden" name="mode" value={mode} />
        <Button name="press" value="link" aria-label={`Link the account, ${mode}`}>
          {link?.state === "linked" ? "Link again" : `Link at ${name}`}
        </Button>
      </Form>
      {!link && <Small>Or carry the keys across by hand, below.</Small>}
    </Stack>
  );
}
