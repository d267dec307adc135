import { zoned } from "../../kit/words";

/** Hours between two marks of the ruler, by the days that it spreads out. */
const STEP: Record<number, number> = { 1: 1, 3: 3, 7: 12 };

/** The marks of an hour ruler over some days, without midnight, which the day's own name marks. */
export function hourTicks(days: string[], zone: string): { moment: number; label: string }[] {
  const step = STEP[days.length] ?? 12;
  return days.flatMap((day) =>
    Array.from({ length: Math.ceil(24 / step) - 1 }, (_, n) => {
      const label = String((n + 1) * step).padStart(2, "0");
      return { moment: Date.parse(zoned(day, `${label}:00`, zone)), label };
    }),
  );
}
