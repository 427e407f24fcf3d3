import { useRef } from "react";
import { Form, useLocation, useSubmit } from "react-router";
import { styled } from "styled-components";
import { t } from "../words/pages/parts";

const Bar = styled(Form)`
  display: flex;
  flex-wrap: wrap;
  gap: 0.5rem 0.7rem;
  align-items: end;
  label {
    font-size: 0.86rem;
  }
  select,
  input:not([type="checkbox"]) {
    min-height: 2rem;
    padding-block: 0.2rem;
    width: auto;
    max-width: 10.5rem;
  }
  @media (min-width: 40.01rem) {
    input[type="date"] {
      max-width: 8.1rem;
      font-size: 0.86rem;
    }
  }
  @media (max-width: 40rem) {
    display: grid;
    grid-template-columns: repeat(2, minmax(0, 1fr));
    > :first-child {
      grid-column: 1 / -1;
    }
    select,
    input:not([type="checkbox"]) {
      width: 100%;
      max-width: none;
    }
  }
`;

const REST = 350;

/**
 * What narrows a list; it does so while it is filled in, and stands in the address. `keep`: what else of the address
 * stays. It works without scripts too, by its press.
 */
export function Filters({
  label,
  keep,
  children,
}: {
  label: string;
  keep: readonly string[];
  children: React.ReactNode;
}) {
  const submit = useSubmit();
  const { search } = useLocation();
  const timer = useRef<ReturnType<typeof setTimeout>>(undefined);
  const query = new URLSearchParams(search);
  return (
    <Bar
      method="get"
      role="search"
      aria-label={label}
      onChange={(event: React.FormEvent<HTMLFormElement>) => {
        const form = event.currentTarget;
        const typed = event.target instanceof HTMLInputElement && event.target.type === "text";
        clearTimeout(timer.current);
        timer.current = setTimeout(
          () => void submit(form, { replace: true, preventScrollReset: true }),
          typed ? REST : 0,
        );
      }}
    >
      {keep.map((name) => {
        const value = query.get(name);
        return value === null ? null : <input key={name} type="hidden" name={name} value={value} />;
      })}
      {children}
      <noscript>
        <button>{t("show")}</button>
      </noscript>
    </Bar>
  );
}
