const lists = {
  and: new Intl.ListFormat("en-GB", { type: "conjunction" }),
  or: new Intl.ListFormat("en-GB", { type: "disjunction" }),
};

/** Names in a row, as a sentence has them: "a, b and c". */
export const listed = (names: Iterable<string>, last: keyof typeof lists = "and") =>
  lists[last].format(names);
