import { App } from "antd";
import { useCallback } from "react";

/** Tells what did not happen and why, in the server's words. */
export function useRefusal(): (title: string, bad: unknown) => void {
  const { notification } = App.useApp();
  return useCallback(
    (title, bad) =>
      notification.warning({ title, description: (bad as Error).message, placement: "bottomRight" }),
    [notification],
  );
}
