import { Suspense, useEffect, useState } from "react";
import { useLocation } from "react-router";
import { ifItComes } from "../parts/if-it-comes";
import { whatWasDone } from "./done";

const List = ifItComes(() => import("./toast-list"));

interface Toast {
  key: string;
  says: string;
}

/** Says on the page that follows what was done on the one before. */
export function Toasts() {
  const { key } = useLocation();
  const [toast, setToast] = useState<Toast | null>(null);
  useEffect(() => {
    const says = whatWasDone();
    if (says) setToast({ key, says });
  }, [key]);
  return toast ? (
    <Suspense>
      <List key={toast.key} says={toast.says} />
    </Suspense>
  ) : null;
}
