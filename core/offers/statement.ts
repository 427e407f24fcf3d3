/** What a statement text on a shopper's bank statement suffers from. `blocking`: networks would refuse it. */
export interface StatementFinding {
  blocking: boolean;
  says: string;
}

export const STATEMENT_LENGTH = { least: 5, most: 22 };

/** Checks length, letters and likeness to the storefront's name, which is what a shopper will look for. */
export function checkStatement(text: string, storefrontName: string): StatementFinding[] {
  if (text === "") return [];
  const findings: StatementFinding[] = [];
  const { least, most } = STATEMENT_LENGTH;
  if (text.length < least)
    findings.push({ blocking: true, says: `At least ${least} characters are needed.` });
  if (text.length > most) {
    findings.push({ blocking: true, says: `${text.length} characters; statements hold ${most}.` });
  }
  const odd = [...new Set(text.match(/[^A-Za-z0-9 .,&/-]/gu) ?? [])];
  if (odd.length > 0) {
    findings.push({ blocking: true, says: `Statements cannot hold ${odd.slice(0, 5).join(" ")}.` });
  }
  if (!/[A-Za-z]/.test(text)) findings.push({ blocking: true, says: "At least one letter is needed." });
  if (findings.length === 0 && !alike(text, storefrontName)) {
    const says = `Nothing in it resembles “${storefrontName}”; shoppers may not recognise the charge.`;
    findings.push({ blocking: false, says });
  }
  return findings;
}

const plain = (text: string) =>
  text
    .normalize("NFKD")
    .toLowerCase()
    .replace(/[^a-z0-9 ]/g, "");

/** Whether a word of the name, of four letters or more (or the first four of one), stands in the text. */
function alike(text: string, name: string): boolean {
  const haystack = plain(text).replace(/ /g, "");
  const words = plain(name)
    .split(" ")
    .filter((word) => word.length >= 3);
  return (
    words.length === 0 || words.some((word) => haystack.includes(word.slice(0, Math.max(4, word.length - 3))))
  );
}
