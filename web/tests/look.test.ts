/** Every text is readable on every ground, in light and in dark: 4.5 to 1, as WCAG 2.2 has it (1.4.3, AA). */
import { describe, expect, it } from "vitest";

import { dark, light } from "../src/kit/tokens";

/** Relative luminance of a colour (WCAG 2.2, "relative luminance"). */
function luminance(colour: string): number {
  const [r, g, b] = [1, 3, 5].map((n) => {
    const part = parseInt(colour.slice(n, n + 2), 16) / 255;
    return part <= 0.04045 ? part / 12.92 : ((part + 0.055) / 1.055) ** 2.4;
  });
  return 0.2126 * r! + 0.7152 * g! + 0.0722 * b!;
}

function contrast(a: string, b: string): number {
  const [high, low] = [luminance(a), luminance(b)].sort((x, y) => y - x);
  return (high! + 0.05) / (low! + 0.05);
}

const ON_GROUNDS = ["ink", "soft", "verdigris", "ochre", "brick"] as const;
const GROUNDS = ["paper", "sheet", "wash"] as const;
const ON_FILLS = [
  ["on-ink", "ink"],
  ["on-verdigris", "verdigris"],
  ["on-other", "verdigris2"],
  ["rail-ink", "rail"],
  ["rail-ink", "rail-low"],
  ["gate-ink", "gate"],
  ["ink", "stone"],
  ["ink", "hover"],
  ["brick", "brick-wash"],
  ["ink", "brick-wash"],
  ["ink", "ochre-wash"],
  ["ochre", "ochre-wash"],
  ["placeholder", "sheet"],
] as const;

describe.each([
  ["light", light],
  ["dark", dark],
])("in %s", (_, tokens) => {
  it.each(ON_GROUNDS.flatMap((ink) => GROUNDS.map((ground) => [ink, ground] as const)))(
    "%s is readable on %s",
    (ink, ground) => expect(contrast(tokens[ink], tokens[ground])).toBeGreaterThanOrEqual(4.5),
  );
  it.each(ON_FILLS)("%s is readable on %s", (ink, ground) =>
    expect(contrast(tokens[ink], tokens[ground])).toBeGreaterThanOrEqual(4.5),
  );
});
