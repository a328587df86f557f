import { useRef, useState } from "react";
import { Link, type LinkProps } from "react-router";
import { reached } from "../../ui/reach";

/** Whoever rests so long on a link will follow it. */
const rests_ms = 100;

/**
 * A link whose page is fetched while somebody rests on it. The router's own way of doing so loads the present page anew where the other's
 * script cannot be fetched, and a bench whose server is away would be gone: it is asked for only where the server is there.
 */
export function AreaLink(props: Omit<LinkProps, "prefetch">) {
  const [ahead, setAhead] = useState(false);
  const timer = useRef<ReturnType<typeof setTimeout>>(undefined);
  const leave = () => {
    clearTimeout(timer.current);
    timer.current = undefined;
    setAhead(false);
  };
  const rest = () => {
    clearTimeout(timer.current);
    const own = setTimeout(async () => {
      const there = await reached();
      if (there && timer.current === own) setAhead(true);
    }, rests_ms);
    timer.current = own;
  };
  return (
    <Link
      {...props}
      prefetch={ahead ? "render" : "none"}
      onMouseEnter={rest}
      onMouseLeave={leave}
      onFocus={rest}
      onBlur={leave}
      onTouchStart={rest}
    />
  );
}
