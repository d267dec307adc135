import { useEffect, useRef, type ReactNode } from "react";
import { createPortal } from "react-dom";

const OPEN_LISTS =
  ".ant-select-dropdown:not(.ant-select-dropdown-hidden), .ant-dropdown:not(.ant-dropdown-hidden), " +
  ".ant-picker-dropdown:not(.ant-picker-dropdown-hidden)";

/**
 * The panel at the right, in the place of the side: what is decided in it is watched on the board or list
 * beside it, which it neither covers nor dims. Escape closes it, unless something in it is not kept yet.
 */
export function Panel({
  title,
  close,
  width = 420,
  unsaved = false,
  back,
  extra,
  footer,
  children,
}: {
  title: string;
  close: () => void;
  width?: number;
  /** Something was typed that closing would lose. */
  unsaved?: boolean;
  /** Leads back from something deeper to what the panel is about; Escape does so first. */
  back?: () => void;
  extra?: ReactNode;
  footer?: ReactNode;
  children: ReactNode;
}) {
  const panel = useRef<HTMLElement>(null);
  const leave = useRef({ close, unsaved, back });
  useEffect(() => {
    leave.current = { close, unsaved, back };
  });
  useEffect(() => {
    const root = document.documentElement;
    root.style.setProperty("--panel", `${width}px`);
    root.classList.add("with-panel");
    return () => root.classList.remove("with-panel");
  }, [width]);
  useEffect(() => {
    const before = document.activeElement;
    if (!panel.current?.contains(before)) panel.current?.focus();
    return () => {
      if (before instanceof HTMLElement && before.isConnected) before.focus({ preventScroll: true });
    };
  }, []);
  useEffect(() => {
    const listen = (event: KeyboardEvent) => {
      if (event.key !== "Escape" || event.defaultPrevented || document.querySelector(OPEN_LISTS)) return;
      if (leave.current.back) leave.current.back();
      else if (!leave.current.unsaved) leave.current.close();
    };
    window.addEventListener("keydown", listen);
    return () => window.removeEventListener("keydown", listen);
  }, []);
  return createPortal(
    <aside ref={panel} className="panel" role="dialog" aria-label={title} tabIndex={-1}>
      <header>
        {back && (
          <button className="plain" aria-label="Back" title="Back, Escape" onClick={back}>
            ‹
          </button>
        )}
        <h2 className="grow">{title}</h2>
        {extra}
        <button className="plain" aria-label="Close" title="Close, Escape" onClick={close}>
          ×
        </button>
      </header>
      <div className="inside">{children}</div>
      {footer && <footer>{footer}</footer>}
    </aside>,
    document.body,
  );
}
