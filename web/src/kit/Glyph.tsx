/** Small line drawings of our own. */
const PATHS = {
  week: "M3 5h14v12H3zM3 9h14M8 9v8M13 9v8",
  lists: "M4 5h2M9 5h7M4 10h2M9 10h7M4 15h2M9 15h7",
  requests: "M4 4h12v9H9l-4 4v-4H4zM7 7.500h6M7 10h4",
  preventive: "M15.500 7A6 6 0 1 0 16 11M16 3.500V7h-3.500M10 7v3.500l2.500 1.500",
  parts: "M4 7l6-3 6 3v7l-6 3-6-3zM4 7l6 3 6-3M10 10v7",
  files: "M5 3h7l4 4v10H5zM12 3v4h4M8 13h5M10.500 10v6",
  setup: "M4 6h7M15 6h1M4 14h1M9 14h7M13 4v4M7 12v4",
  accounts:
    "M7 9a2.500 2.500 0 1 0 0-5 2.500 2.500 0 0 0 0 5zM2.500 16c0-3 2-4.500 4.500-4.500s4.500 1.500 4.500 " +
    "4.500M13 5.500h4.500M13 9h4.500M14 12.500h3.500",
  own: "M10 9.500a3 3 0 1 0 0-6 3 3 0 0 0 0 6zM4 17c0-3.500 2.500-5.500 6-5.500s6 2 6 5.500",
  audit: "M5 3h10v14H5zM8 7h4M8 10h4M8 13h2",
  leave: "M11 4H4v12h7M8 10h9M14 7l3 3-3 3",
} as const;

export function Glyph({ name }: { name: keyof typeof PATHS }) {
  return (
    <svg
      width="20"
      height="20"
      viewBox="0 0 20 20"
      fill="none"
      stroke="currentColor"
      strokeWidth="1.4"
      aria-hidden="true"
    >
      <path d={PATHS[name]} />
    </svg>
  );
}
