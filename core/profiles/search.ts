import MiniSearch from "minisearch";
import type { MethodKind } from "./profile";

/** A provider as it is searched for. */
export interface Searchable {
  id: string;
  name: string;
  about: string;
  methods: { name: string; kind: MethodKind; synonyms: readonly string[]; networks: readonly string[] }[];
}

const kindWords: Record<MethodKind, string> = {
  card: "card cards",
  "account-wallet": "wallet account purse",
  "code-wallet": "wallet code QR scan",
  "device-wallet": "wallet device phone watch",
  instalments: "instalments later monthly",
  "direct-debit": "direct debit bank",
};

/** Letters without their marks, in lower case, so that “Ratenzahlung” and “carté” are found as people type them. */
const plain = (word: string) => word.normalize("NFKD").replace(/\p{M}/gu, "").toLowerCase();

export type ProviderIndex = MiniSearch<{ id: string; name: string; methods: string; about: string }>;

/** An index over providers: by name, by method in a shopper's words, by network; beginnings and small slips count. */
export function searchIndex(providers: readonly Searchable[]): ProviderIndex {
  const index: ProviderIndex = new MiniSearch({
    fields: ["name", "methods", "about"],
    processTerm: (term) => plain(term) || null,
    searchOptions: {
      prefix: true,
      fuzzy: (term) => (term.length > 4 ? 0.2 : false),
      combineWith: "AND",
      boost: { name: 3, methods: 2 },
    },
  });
  index.addAll(
    providers.map(({ id, name, about, methods }) => ({
      id,
      name,
      about,
      methods: methods
        .map((one) => [one.name, kindWords[one.kind], ...one.synonyms, ...one.networks].join(" "))
        .join(" "),
    })),
  );
  return index;
}

/** Ids of the providers that fit what was typed, best first; all of them, in their own order, for nothing typed. */
export function findProviders(
  index: ProviderIndex,
  providers: readonly Searchable[],
  typed: string,
): string[] {
  if (typed.trim() === "") return providers.map((one) => one.id);
  return index.search(typed).map((one) => String(one.id));
}
