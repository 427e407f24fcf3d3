import { data } from "react-router";
import { Trouble } from "./trouble";

export const meta = () => [{ title: "Not found" }];

export function loader() {
  return data(null, { status: 404 });
}

export function action() {
  throw data("There is nothing at this address.", { status: 404 });
}

export default function NotFound() {
  return <Trouble status={404} says="There is no page at this address." />;
}
