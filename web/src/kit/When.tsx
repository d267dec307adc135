import dayjs from "dayjs";

import { CLOCK_WORDS, clockOf, DAY_WORDS, dayOf, MOMENT_WORDS, momentOf } from "./typedDates";
import { Field, type Props } from "./TypedField";
import { HOURS_WORDS, hoursOf } from "./typedHours";
import { dayName, signed } from "./words";

/** A clock of 24 hours, `06:15`; typed as 6:15, 0615 or 6. */
export function Clock(props: Props) {
  return <Field {...props} read={clockOf} show={(v) => v} words={CLOCK_WORDS} />;
}

const dayWords = (day: string) => `${dayName(day)} ${day.slice(0, 4)}`;

/** A day in words, `2026-12-01`; not before `least`. */
export function Day({ least, ...props }: Props & { least?: string }) {
  const today = dayjs().format("YYYY-MM-DD");
  const near = props.value || least || today;
  const refuse = (day: string) => (least && day < least ? `Not before ${dayName(least)}` : null);
  return (
    <Field
      {...props}
      read={(t) => dayOf(t, near, today)}
      show={dayWords}
      words={DAY_WORDS}
      refuse={refuse}
      pick={{ value: props.value, change: props.change }}
    />
  );
}

/** A day and clock of the site, `2026-12-01T06:15`; a day alone is read with the clock `alone`. */
export function Moment({ alone = "00:00", ...props }: Props & { alone?: string }) {
  const today = dayjs().format("YYYY-MM-DD");
  const near = props.value || today;
  const pick = (day: string) => props.change(`${day}T${props.value.slice(11, 16) || alone}`);
  const thisYear = (v: string) => v.slice(0, 4) === today.slice(0, 4);
  const show = (v: string) => `${thisYear(v) ? dayName(v) : dayWords(v)} ${v.slice(11, 16)}`;
  return (
    <Field
      {...props}
      read={(t) => momentOf(t, near, alone, today)}
      show={show}
      words={MOMENT_WORDS}
      pick={{ value: props.value, change: pick }}
    />
  );
}

/** Hours as a decimal figure, `1.5`; typed as 1.5, 1:30 or 90m. */
export function Hours(props: Props) {
  return <Field {...props} read={hoursOf} show={signed} words={HOURS_WORDS} />;
}
