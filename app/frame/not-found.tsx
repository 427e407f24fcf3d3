import { data } from "react-router";
import { Trouble } from "./trouble";
import { t } from "../words/pages/frame";

export const meta = () => [{ title: t("not-found") }];

export function loader() {
  return data(null, { status: 404 });
}

export function action() {
  throw data(t("there-is-nothing-at-this"), { status: 404 });
}

export default function NotFound() {
  return <Trouble status={404} says={t("there-is-no-page-at")} />;
}
