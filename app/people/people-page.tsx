import { data, useFetcher } from "react-router";
import { isRole, type Role, roles } from "#core/people/roles";
import { invite } from "#server/people/invitations";
import { allPeople, changePassword, removePerson } from "#server/people/people";
import { personContext, runtimeContext } from "../context";
import { AskFirst } from "../parts/ask";
import { CopyValue } from "../parts/copy";
import { type Column, DataTable } from "../parts/data-table";
import { Button, Hint, Wrong } from "../parts/form";
import { Note, Says } from "../parts/marks";
import { SelectBox } from "../parts/select-box";
import { PageHead, Row, Sheet, Small, Stack } from "../parts/sheet";
import { sortedBy } from "../parts/sorted";
import { When } from "../parts/when";
import { mustOwn, sessionToken } from "./session";
import { spoken, tell } from "../words/spoken.server";
import type { Route } from "./+types/people-page";
import { TextBox } from "../parts/text-box";
import { t } from "../words/pages/people";

export const meta: Route.MetaFunction = () => [{ title: t("people-zahlung") }];

export async function loader({ request, context }: Route.LoaderArgs) {
  const { id, role } = context.get(personContext);
  const people = await allPeople(context.get(runtimeContext));
  return {
    people: sortedBy(people, new URL(request.url).searchParams.get("sort"), {
      name: (one) => one.name,
      email: (one) => one.email,
      role: (one) => roles.indexOf(one.role),
      since: (one) => one.createdAt,
    }),
    me: { id, owner: role === "owner" },
  };
}

type Answer = {
  invited?: string;
  removed?: boolean;
  changed?: boolean;
  field?: "old" | "next";
  says?: string;
};

export async function action({ request, context }: Route.ActionArgs) {
  const form = await request.formData();
  const read = (name: string) => String(form.get(name) ?? "");
  switch (form.get("press")) {
    case "invite": {
      const { rt, person } = mustOwn(context);
      const role = form.get("role");
      if (!isRole(role)) throw data(t("there-is-no-such-role"), { status: 400 });
      return data<Answer>({ invited: await invite(rt, person.email, role) });
    }
    case "remove": {
      const { rt, person } = mustOwn(context);
      const says = await removePerson(rt, person.email, read("person"));
      return says ? data<Answer>({ says: tell(says) }, { status: 409 }) : data<Answer>({ removed: true });
    }
    case "password": {
      const entered = { old: read("old"), next: read("next"), session: sessionToken(request) ?? "" };
      const wrong = await changePassword(context.get(runtimeContext), context.get(personContext), entered);
      return wrong ? data<Answer>(spoken(wrong), { status: 422 }) : data<Answer>({ changed: true });
    }
    default:
      throw data(t("that-cannot-be-done-here"), { status: 400 });
  }
}

const roleSays: Record<Role, string> = {
  owner: t("owner-everything-people-too"),
  operator: t("operator-everything-but-people"),
  viewer: t("viewer-looks-changes-nothing"),
};

type Shown = Route.ComponentProps["loaderData"];

const columns = (me: Shown["me"]): Column<Shown["people"][number]>[] => [
  {
    ...{ id: "name", head: t("name"), sort: "name", always: true },
    cell: (one) => (
      <>
        {one.name} {one.id === me.id && <Small as="span">{t("you")}</Small>}
      </>
    ),
  },
  { id: "email", head: t("e-mail"), sort: "email", always: true, cell: (one) => one.email },
  { id: "role", head: t("role"), sort: "role", always: true, cell: (one) => roleSays[one.role] },
  { id: "since", head: t("since"), sort: "since", wide: true, cell: (one) => <When at={one.createdAt} /> },
  ...(me.owner
    ? [
        {
          ...{ id: "acts", head: "", amount: true, always: true },
          cell: (one: Shown["people"][number]) => one.id !== me.id && <TakeOut person={one} />,
        },
      ]
    : []),
];

export default function PeoplePage({ loaderData }: Route.ComponentProps) {
  const { people, me } = loaderData;
  return (
    <>
      <PageHead>
        <div>
          <h1>{t("people")}</h1>
          <p>{t("who-may-come-in-and")}</p>
        </div>
      </PageHead>
      <Stack $gap={1.1}>
        <Sheet>
          <Stack>
            <DataTable
              label={t("people")}
              columns={columns(me)}
              rows={people}
              rowKey={(one) => one.id}
              csv="/people.csv"
              empty={null}
            />
            {me.owner && <Invite />}
          </Stack>
        </Sheet>
        <OwnPassword />
      </Stack>
    </>
  );
}

function TakeOut({ person }: { person: { id: string; name: string; email: string } }) {
  const fetcher = useFetcher<Answer>();
  return (
    <>
      <AskFirst
        label={t("take-out")}
        name={t("take-out-name", { name: person.name })}
        title={t("ask-take-out-name", { name: person.name })}
        says={t("email-can-no-longer-sign", { email: person.email })}
        yes={t("take-out")}
        no={t("keep")}
        onYes={() => void fetcher.submit({ press: "remove", person: person.id }, { method: "post" })}
      />
      <Wrong>{fetcher.data?.says}</Wrong>
    </>
  );
}

function Invite() {
  const fetcher = useFetcher<Answer>();
  const invited = fetcher.data?.invited;
  return (
    <fetcher.Form method="post">
      <Stack $gap={0.7}>
        <h2>{t("invite-somebody")}</h2>
        <Row $gap={0.8} $align="end">
          <SelectBox
            label={t("role")}
            name="role"
            defaultValue="operator"
            choices={roles.map((role) => ({ id: role, name: roleSays[role] }))}
          />
          <Button name="press" value="invite" disabled={fetcher.state !== "idle"}>
            {t("make-a-one-time-address")}
          </Button>
        </Row>
        {invited && (
          <Note meaning="waits">
            <p>{t("shown-this-once-it-opens")}</p>
            <CopyValue value={invited} />
          </Note>
        )}
      </Stack>
    </fetcher.Form>
  );
}

function OwnPassword() {
  const fetcher = useFetcher<Answer>();
  const answer = fetcher.data;
  const wrong = (field: "old" | "next") => (answer?.field === field ? answer.says : undefined);
  return (
    <Sheet>
      <fetcher.Form method="post" key={answer?.changed ? "changed" : "entering"}>
        <Stack>
          <h2>{t("your-password")}</h2>
          <Row $gap={1.2}>
            <TextBox
              label={t("the-one-you-have")}
              name="old"
              type="password"
              autoComplete="current-password"
              required
              maxLength={1000}
              wrong={wrong("old")}
            />
            <TextBox
              label={t("the-new-one")}
              name="next"
              type="password"
              autoComplete="new-password"
              required
              maxLength={1000}
              wrong={wrong("next")}
            />
          </Row>
          <Hint>{t("12-characters-or-more-your")}</Hint>
          <Row>
            <Button name="press" value="password" disabled={fetcher.state !== "idle"}>
              {t("changing", { idle: fetcher.state === "idle" ? "yes" : "no" })}
            </Button>
            {answer?.changed && (
              <Says meaning="proven" role="status">
                {t("changed")}
              </Says>
            )}
          </Row>
        </Stack>
      </fetcher.Form>
    </Sheet>
  );
}
