import type { useBlocker } from "react-router";
import { Ask } from "./ask";
import { Button } from "./form";
import { t } from "../words/pages/parts";

/** Asks before a page with unsaved work is left; `says` what becomes of the work. */
export function LeaveAsk({ blocker, says }: { blocker: ReturnType<typeof useBlocker>; says: string }) {
  if (blocker.state !== "blocked") return null;
  return (
    <Ask title={t("leave-without-saving")} says={says} onClose={() => blocker.reset()}>
      <Button type="button" $kind="main" onClick={() => blocker.reset()}>
        {t("stay")}
      </Button>
      <Button type="button" onClick={() => blocker.proceed()}>
        {t("leave")}
      </Button>
    </Ask>
  );
}
