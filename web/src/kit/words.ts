import dayjs from "dayjs";
import timezone from "dayjs/plugin/timezone";
import utc from "dayjs/plugin/utc";

dayjs.extend(utc);
dayjs.extend(timezone);

/** Figures and days as people read them. */
const DAYS = ["Sun", "Mon", "Tue", "Wed", "Thu", "Fri", "Sat"];
const MONTHS = ["Jan", "Feb", "Mar", "Apr", "May", "Jun", "Jul", "Aug", "Sep", "Oct", "Nov", "Dec"];

/** How somebody has figures, days and weeks written. */
export interface Formats {
  /** The sign before decimals. */
  decimals: "." | ",";
  /** `Tue 1 Dec`, `Tue 1.12.` or `Tue 2026-12-01`. */
  days: "named" | "dotted" | "iso";
  /** `2026-W49`, `W49` or `49/2026`. */
  weeks: "iso" | "short" | "slashed";
}

let formats: Formats = { decimals: ".", days: "named", weeks: "iso" };

/** Days further from the present than this are written with their year. */
const FAR = 200;
let present = new Date().toISOString().slice(0, 10);

/** Write in one's own way from now on. */
export function write(to: Formats): void {
  formats = { decimals: to.decimals, days: to.days, weeks: to.weeks };
}

/** A day of the time that is worked in, by which it is told whether a day lies in a far year. */
export function writeAround(day: string): void {
  present = day;
}

/** A day among others of which some lie years away: `Tue 1 Dec`, or `Sun 28 Nov 2027` where that is far. */
export function dayOfAnyYear(day: string): string {
  const far = Math.abs(Date.parse(day.slice(0, 10)) - Date.parse(present)) > FAR * 86_400_000;
  return far && formats.days !== "iso" ? `${dayName(day)} ${day.slice(0, 4)}` : dayName(day);
}

/** `2026-12-01` as `Tue 1 Dec`, or in one's own way; always the weekday first, in three letters. */
export function dayName(day: string, month = true): string {
  const [y, m, d] = day.slice(0, 10).split("-").map(Number);
  const at = new Date(Date.UTC(y, m - 1, d));
  const name = DAYS[at.getUTCDay()];
  if (formats.days === "dotted") return `${name} ${d}.${month ? `${m}.` : ""}`;
  if (formats.days === "iso") return `${name} ${month ? day.slice(0, 10) : day.slice(8, 10)}`;
  return `${name} ${d}${month ? ` ${MONTHS[m - 1]}` : ""}`;
}

/** `2026-W49`, or in one's own way. */
export function weekName(week: string): string {
  const [year, number] = week.split("-W");
  if (!number) return week;
  if (formats.weeks === "short") return `W${number}`;
  return formats.weeks === "slashed" ? `${Number(number)}/${year}` : week;
}

/** A figure in text with one's own sign before decimals. */
export function signed(text: string): string {
  return formats.decimals === "," ? text.replace(".", ",") : text;
}

/** The day so many days after one. */
export function dayLater(day: string, by: number): string {
  return new Date(Date.parse(`${day}T00:00:00Z`) + by * 864e5).toISOString().slice(0, 10);
}

/** Hours without trailing zeros: 7.5 h. */
export function hours(n: number): string {
  return `${figure(n)} h`;
}

export function figure(n: number): string {
  return signed(String(+n.toFixed(2)));
}

/** A sum, which may be long: 354 775.5, but 3739.75. */
export function sum(n: number): string {
  if (Math.abs(n) < 10_000) return figure(n);
  const whole = Math.trunc(+n.toFixed(2));
  const rest = Math.abs(+(+n.toFixed(2) - whole).toFixed(2));
  return thousands(whole) + signed(rest ? String(rest).slice(1) : "");
}

/** Cents as an amount, with the currency where the site names one. */
export function money(cents: number, currency: string): string {
  const amount = thousands(Math.floor(Math.abs(cents) / 100));
  const rest = String(Math.abs(cents) % 100).padStart(2, "0");
  return `${currency ? `${currency} ` : ""}${cents < 0 ? "−" : ""}${amount}${signed(`.${rest}`)}`;
}

export function percent(share: number, digits = 1): string {
  return `${signed((100 * share).toFixed(digits))} %`;
}

export function thousands(n: number): string {
  return Math.round(n)
    .toString()
    .replace(/\B(?=(\d{3})+$)/g, " ");
}

/** Formatters by zone: making one takes far longer than using it. */
const kept = new Map<string, Intl.DateTimeFormat>();

function format(zone: string, language: string, parts: Intl.DateTimeFormatOptions): Intl.DateTimeFormat {
  const key = `${language} ${zone}`;
  const one = kept.get(key) ?? new Intl.DateTimeFormat(language, { ...parts, timeZone: zone });
  kept.set(key, one);
  return one;
}

/** A moment in the site's zone: `06:15`. */
export function clock(moment: string, zone: string): string {
  return format(zone, "en-GB", { hour: "2-digit", minute: "2-digit" }).format(new Date(moment));
}

/** A moment as the day of the site's zone: `2026-12-01`. */
export function localDay(moment: string, zone: string): string {
  return format(zone, "en-CA", { year: "numeric", month: "2-digit", day: "2-digit" }).format(
    new Date(moment),
  );
}

/**
 * An hour of a shift that belongs to `day`: `22:45`, and with the calendar's day after midnight: `Wed 01:15`.
 */
export function at(moment: string, day: string, zone: string): string {
  const on = localDay(moment, zone);
  return on === day.slice(0, 10) ? clock(moment, zone) : `${dayName(on).slice(0, 3)} ${clock(moment, zone)}`;
}

/** From when to when, in a shift that belongs to `day`: `22:45–Wed 01:15`, `Wed 01:15–03:00`. */
export function from(start: string | null, end: string | null, day: string, zone: string): string {
  if (!start || !end) return "time open";
  return `${at(start, day, zone)}–${at(end, localDay(start, zone), zone)}`;
}

/**
 * Day and hours: `Tue 1 Dec, 08:00–10:00`; work of a night after midnight: `Tue 1 Dec night, Wed
 * 01:15–03:00`.
 */
export function when(day: string, start: string | null, end: string | null, zone: string): string {
  const night = start !== null && localDay(start, zone) > day;
  return `${dayName(day)}${night ? " night" : ""}, ${from(start, end, day, zone)}`;
}

export function count(n: number, one: string, many = `${one}s`): string {
  return `${n} ${n === 1 ? one : many}`;
}

/**
 * What a change brings: hours of work and points; better work may take fewer hours than what leaves for it.
 */
export function letsIn(h: number, points: number): string {
  const gain = `${thousands(points)} points`;
  if (h > 0) return `lets in ${hours(h)} of work, ${gain}`;
  return h < 0 ? `brings ${gain} with ${hours(-h)} less work` : `brings ${gain} with as many hours`;
}

/** The week so many weeks from `week`. */
export function weekBeside(week: string, by: number): string {
  const [year, number] = week.split("-W").map(Number);
  const fourth = new Date(Date.UTC(year, 0, 4));
  const monday = new Date(
    fourth.getTime() - ((fourth.getUTCDay() + 6) % 7) * 864e5 + (number - 1 + by) * 7 * 864e5,
  );
  const thursday = new Date(monday.getTime() + 3 * 864e5);
  const first = new Date(Date.UTC(thursday.getUTCFullYear(), 0, 4));
  const start = new Date(first.getTime() - ((first.getUTCDay() + 6) % 7) * 864e5);
  const n = Math.round((monday.getTime() - start.getTime()) / (7 * 864e5)) + 1;
  return `${thursday.getUTCFullYear()}-W${String(n).padStart(2, "0")}`;
}

export function isPreventive(kind: string): boolean {
  return kind === "preventive" || kind === "statutory";
}

/** Must, preventive or other: how a job is inked. */
export function tone(job: { must: boolean; kind: string }): "must" | "preventive" | "other" {
  return job.must ? "must" : isPreventive(job.kind) ? "preventive" : "other";
}

/** Kinds of work, in the order of the trade's care for them. */
export const WORK_KINDS = [
  "statutory",
  "safety",
  "breakdown",
  "corrective",
  "preventive",
  "improvement",
  "project",
];

/** A local day and clock of the site as a moment. */
export function zoned(day: string, time: string, zone: string): string {
  return dayjs.tz(`${day} ${time}`, zone).toISOString();
}

/** A moment as `2026-12-01T06:15` in the site's zone, as date and time fields hold it. */
export function localMoment(moment: string, zone: string): string {
  return `${localDay(moment, zone)}T${clock(moment, zone)}`;
}

/** The Monday of an ISO week by its name. */
export function mondayOf(week: string): string {
  const [year, nth] = [week.slice(0, 4), Number(week.slice(6))];
  const fourth = `${year}-01-04`;
  const weekday = (new Date(`${fourth}T00:00:00Z`).getUTCDay() + 6) % 7;
  return dayLater(fourth, 7 * (nth - 1) - weekday);
}
