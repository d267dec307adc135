/** Filters in words, and what can be asked of each kind of column. */
import type { Column, Filter } from "../../api/lists";
import { dayName } from "../words";

/** Whether it holds numbers, of whatever. */
export const isFigure = (c: Column) => c.kind === "number" || c.kind === "hours" || c.kind === "money";

export const HOW_WORDS: Record<Filter["how"], string> = {
  contains: "contains",
  is: "is",
  "is not": "is not",
  between: "between",
  empty: "is empty",
  "not empty": "is not empty",
};

export function valueWords(column: Column, value: string): string {
  const label = column.choices.find((c) => c.value === value)?.label;
  if (label) return label;
  return /^\d{4}-\d\d-\d\d$/.test(value) ? dayName(value) : value;
}

/** `Due until today-1`, `Kind is safety or statutory`. */
export function filterWords(column: Column, one: Filter): string {
  const values = one.values.map((v) => valueWords(column, v));
  if (one.how === "empty" || one.how === "not empty") return `${column.label} ${HOW_WORDS[one.how]}`;
  if (column.kind === "yes") return values[0] === "yes" ? column.label : `not ${column.label.toLowerCase()}`;
  if (one.how === "between") {
    const [low, high] = values;
    if (!low) return `${column.label} until ${high}`;
    return high ? `${column.label} ${low} to ${high}` : `${column.label} from ${low}`;
  }
  return `${column.label} ${HOW_WORDS[one.how]} ${values.join(" or ")}`;
}
