import { type ComponentType, type LazyExoticComponent, lazy, useCallback, useEffect, useState } from "react";
import { NotFetched } from "./NotFetched";

type Load<P> = () => Promise<{ default: ComponentType<P> }>;

/** A part whose script could not be fetched: a sentence until it can be. A part that is a dialog can be closed meanwhile. */
function AfterAll<P extends { onClose?: () => void }>({ load, props }: { load: Load<P>; props: P }) {
  const [part, setPart] = useState<{ Part: ComponentType<P> } | null>(null);
  const again = useCallback(() => {
    void load().then(
      (fetched) => setPart({ Part: fetched.default }),
      () => undefined,
    );
  }, [load]);
  // Whoever shows it once more need not ask for it again.
  useEffect(again, [again]);
  if (part) return <part.Part {...props} />;
  return <NotFetched again={again} {...(props.onClose ? { onClose: props.onClose } : {})} />;
}

/**
 * A part of a page whose script is fetched when it is first shown. Where it cannot be, a sentence stands in its place, and the page around
 * it goes on. `ahead` fetches it before: the network may be gone by the time it is needed.
 */
export const lazyPart = <P extends object>(
  load: Load<P>,
): LazyExoticComponent<ComponentType<P>> & { ahead(): void } =>
  Object.assign(
    lazy<ComponentType<P>>(() =>
      load().catch(() => ({ default: (props: P) => <AfterAll load={load} props={props} /> })),
    ),
    { ahead: () => void load().catch(() => undefined) },
  );
