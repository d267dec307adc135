import type { ReactNode } from "react";

/**
 * A cell that is changed where it stands: its words are a button, in whose place the editor stands until it
 * is done or left by Escape.
 */
export function InPlace({
  label,
  words,
  open,
  setOpen,
  editor,
}: {
  label: string;
  words: ReactNode;
  open: boolean;
  setOpen: (open: boolean) => void;
  editor: ReactNode;
}) {
  return open ? (
    <span
      className="inplace"
      onClick={(e) => e.stopPropagation()}
      onKeyDown={(e) => {
        e.stopPropagation();
        if (e.key === "Escape") setOpen(false);
      }}
      onBlur={(e) => {
        if (e.relatedTarget && !e.currentTarget.contains(e.relatedTarget)) setOpen(false);
      }}
    >
      {editor}
    </span>
  ) : (
    <button
      className="plain inplace"
      tabIndex={-1}
      aria-label={label}
      title={label}
      onClick={(e) => {
        e.stopPropagation();
        setOpen(true);
      }}
    >
      {words}
    </button>
  );
}
