/** What stands in a menu: something to choose, or a line between. */
export type MenuChoice = { id: string; name: string } | "rule";

export interface MenuProps {
  /** What the list is called. */
  label: string;
  choices: readonly MenuChoice[];
  /** It begins where the button ends, rather than where it begins. */
  ends?: boolean;
  /** The ids of what is ticked, where several can be. */
  chosen?: readonly string[];
  /** What cannot be ticked off. */
  fixed?: readonly string[];
  onAction?: (id: string) => void;
  onChosen?: (ids: string[]) => void;
}
