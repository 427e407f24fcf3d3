import { Search } from "lucide-react";
import { Form, Link, useNavigate, useRouteLoaderData, useSearchParams } from "react-router";
import { styled } from "styled-components";
import { Button as AriaButton, Menu, MenuItem, MenuTrigger, Popover, Separator } from "react-aria-components";
import type { loader } from "./signed-in";
import { chooseTheme } from "./theme-cookie";
import { Keys } from "./keys";
import { Wordmark } from "./wordmark";
import { color } from "../theme/tokens";

const Across = styled.header`
  border-bottom: 1px solid ${color.rule};
`;
const Bar = styled.div`
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 0.5rem 1.1rem;
  padding: 0.5rem 1.5rem;
  max-width: 84rem;
  margin: 0 auto;
  > a {
    text-decoration: none;
  }
  @media (max-width: 40rem) {
    padding: 0.5rem 0.9rem;
  }
`;
const Trigger = styled(AriaButton)`
  min-height: 2.1rem;
  padding: 0.2rem 0.7rem;
  background: none;
  border: 1.5px solid ${color.rule};
  border-radius: 2px;
  font-weight: 600;
  cursor: pointer;
  &[data-hovered] {
    border-color: ${color.petrol};
  }
  &[data-focus-visible] {
    outline: 3px solid ${color.petrol};
    outline-offset: 2px;
  }
`;
const List = styled(Menu)`
  min-width: 13rem;
  padding: 0.3rem;
  background: ${color.sheet};
  border: 1.5px solid ${color.ink};
  outline: none;
`;
const Item = styled(MenuItem)`
  display: block;
  padding: 0.4rem 0.6rem;
  cursor: pointer;
  outline: none;
  color: ${color.ink};
  text-decoration: none;
  &[data-focused] {
    background: ${color.petrolSoft};
  }
`;
const Line = styled(Separator)`
  border-top: 1px solid ${color.rule};
  margin: 0.3rem 0;
`;
const Find = styled(Form)`
  display: flex;
  flex: 1 1 12rem;
  max-width: 24rem;
  margin-left: auto;
  align-items: center;
  gap: 0.4rem;
  padding: 0 0.6rem;
  border: 1.5px solid ${color.rule};
  background: ${color.sheet};
  &:focus-within {
    border-color: ${color.petrol};
  }
  input {
    flex: 1;
    min-width: 0;
    min-height: 2.1rem;
    border: 0;
    background: none;
    outline: none;
  }
  input::placeholder {
    color: ${color.inkSoft};
    opacity: 1;
  }
`;

/** The mark, the storefront switch, search and the person. */
export function Top({ storefrontId }: { storefrontId: string }) {
  const data = useRouteLoaderData<typeof loader>("frame/signed-in");
  const navigate = useNavigate();
  const [search] = useSearchParams();
  const mode = search.get("mode");
  const storefronts = data?.storefronts ?? [];
  const here = storefronts.find((one) => one.id === storefrontId);
  return (
    <Across>
      <Bar>
        <Link to={`/s/${storefrontId}`} aria-label="Zahlung, home">
          <Wordmark />
        </Link>
        <MenuTrigger>
          <Trigger aria-label={`Storefront ${here?.name ?? ""}, choose another`}>
            {here?.name ?? storefrontId} ▾
          </Trigger>
          <Popover>
            <List
              aria-label="Storefronts"
              onAction={(key) => void navigate(key === "+" ? "/storefronts/new" : `/s/${String(key)}`)}
            >
              {storefronts.map((one) => (
                <Item key={one.id} id={one.id}>
                  {one.name}
                </Item>
              ))}
              <Line />
              <Item id="+">Add a storefront</Item>
            </List>
          </Popover>
        </MenuTrigger>
        <Link to={`/s/${storefrontId}/shop`}>The shop’s side</Link>
        <Find role="search" action={`/s/${storefrontId}/operate`}>
          <Search size={16} aria-hidden />
          <input
            name="q"
            aria-label="Find a payment by order or reference"
            placeholder="Order or reference"
            maxLength={80}
            defaultValue={search.get("q") ?? ""}
          />
          {mode && <input type="hidden" name="mode" value={mode} />}
        </Find>
        <Keys storefrontId={storefrontId} />
        <MenuTrigger>
          <Trigger>
            {data?.person.name}
            {data?.person.role === "viewer" && " (may look)"} ▾
          </Trigger>
          <Popover placement="bottom end">
            <List aria-label="You" onAction={(key) => onPersonAction(String(key), (to) => void navigate(to))}>
              <Item id="people">People and your password</Item>
              <Item id="profiles">Profiles of providers</Item>
              <Item id="audit">Audit trail</Item>
              <Item id="jobs">Background work</Item>
              <Line />
              <Item id="light">Light</Item>
              <Item id="dark">Dark</Item>
              <Item id="system">As the system</Item>
              <Line />
              <Item id="sign-out">Sign out</Item>
            </List>
          </Popover>
        </MenuTrigger>
        <form id="sign-out" method="post" action="/sign-out" hidden />
      </Bar>
    </Across>
  );
}

function onPersonAction(key: string, go: (to: string) => void) {
  if (key === "light" || key === "dark") chooseTheme(key);
  else if (key === "system") chooseTheme(null);
  else if (key === "sign-out") (document.getElementById("sign-out") as HTMLFormElement).submit();
  else go(`/${key}`);
}
