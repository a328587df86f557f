import type { ReactNode } from "react";

/** A table that may be wider than the screen: it scrolls by itself, by finger and by the arrow keys. */
export function WideTable({
  name,
  className = "",
  children,
}: {
  name: string;
  className?: string;
  children: ReactNode;
}) {
  return (
    // biome-ignore lint/a11y/noNoninteractiveTabindex: what scrolls must be reached by the keyboard
    <section className={`scroll-x ${className}`} aria-label={name} tabIndex={0}>
      {children}
    </section>
  );
}
