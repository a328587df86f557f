import { type ReactNode, Suspense, useSyncExternalStore } from "react";

const never = () => () => undefined;

/** A chart is drawn on a canvas, which the server does not have: its place stays empty until the browser draws it. */
export function InBrowser({ children }: { children: ReactNode }) {
  const inBrowser = useSyncExternalStore(
    never,
    () => true,
    () => false,
  );
  return inBrowser ? <Suspense>{children}</Suspense> : null;
}
