import { Suspense, useCallback, useEffect, useRef, useState } from "react";
import { Form, Link, useLocation, useNavigate } from "react-router";
import { useKey } from "../../ui/keys";
import { lazyPart } from "../../ui/lazyPart";
import { AreaLink } from "./AreaLink";
import { areaAt, areas } from "./areas";
import { Drop } from "./Drop";

const JumpBox = lazyPart(() => import("./JumpBox"));
const KeyHelp = lazyPart(() => import("./KeyHelp"));

export function AreasBar({ name, role }: { name: string; role: string }) {
  const [open, setOpen] = useState<"jump" | "keys" | null>(null);
  const close = useCallback(() => setOpen(null), []);
  const openJump = useCallback(() => setOpen("jump"), []);
  const openKeys = useCallback(() => setOpen("keys"), []);
  useKey("/", "/", "Jump to anything", openJump);
  useKey("?", "?", "Show the keys of this page", openKeys);
  useAreaLetters();
  const bar = useHereInView();
  const here = areaAt(useLocation().pathname);
  return (
    <header className="areas">
      <Link to="/" className="mark" aria-label="Brintel, the day">
        <Drop /> Brintel
      </Link>
      <nav aria-label="Areas" ref={bar}>
        {areas.map((area) => (
          <AreaLink
            key={area.href}
            to={area.href}
            className={area === here ? "active" : undefined}
            aria-current={area === here ? "page" : undefined}
          >
            {area.name}
          </AreaLink>
        ))}
      </nav>
      <div className="aside-tools">
        <button type="button" onClick={openJump}>
          Jump <kbd>/</kbd>
        </button>
        <button type="button" onClick={openKeys}>
          Keys <kbd>?</kbd>
        </button>
        <PersonMenu name={name} role={role} />
      </div>
      <Suspense>
        {open === "jump" && <JumpBox onClose={close} />}
        {open === "keys" && <KeyHelp onClose={close} />}
      </Suspense>
    </header>
  );
}

/** Where the areas are more than the screen holds, the one somebody is in stands in view. */
function useHereInView() {
  const { pathname } = useLocation();
  const bar = useRef<HTMLElement>(null);
  // biome-ignore lint/correctness/useExhaustiveDependencies: another page may be in another area
  useEffect(() => {
    const nav = bar.current;
    const here = nav?.querySelector<HTMLElement>(".active");
    if (!nav || !here || nav.scrollWidth <= nav.clientWidth) return;
    nav.scrollLeft = here.offsetLeft - (nav.clientWidth - here.offsetWidth) / 2;
  }, [pathname]);
  return bar;
}

/** `g`, then the letter of an area. */
function useAreaLetters() {
  const navigate = useNavigate();
  const waiting = useRef(0);
  const begin = useCallback(() => {
    waiting.current = Date.now();
  }, []);
  useKey("g", "g then a letter", `Go to ${areas.map((a) => `${a.name} (${a.letter})`).join(", ")}`, begin);
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      if (event.key === "g" || Date.now() - waiting.current > 1500) return;
      const area = areas.find((a) => a.letter === event.key);
      waiting.current = 0;
      if (!area) return;
      event.stopImmediatePropagation();
      event.preventDefault();
      navigate(area.href);
    };
    // In the capture phase, so that the letter does not also count as a key of the page.
    document.addEventListener("keydown", onKey, true);
    return () => document.removeEventListener("keydown", onKey, true);
  }, [navigate]);
}

function PersonMenu({ name, role }: { name: string; role: string }) {
  const { pathname, search } = useLocation();
  const menu = useRef<HTMLDetailsElement>(null);
  const here = pathname + search;
  // biome-ignore lint/correctness/useExhaustiveDependencies: the menu closes whenever the page changes
  useEffect(() => {
    if (menu.current) menu.current.open = false;
  }, [here]);
  return (
    <details className="person" ref={menu}>
      <summary>
        <span>
          {name.split(" ")[0]}
          <span className="at-bench">{role === "read-only" ? " only looks" : " at the bench"}</span>
        </span>
      </summary>
      <div className="person-menu">
        <Link to={`/sign-in?next=${encodeURIComponent(here)}`}>Someone else is at the bench</Link>
        <Link to="/review">Review and signing</Link>
        <Link to="/journal">Journal</Link>
        <Link to="/upkeep">Backups and upkeep</Link>
        <Link to="/me">Your password and PIN</Link>
        <Link to="/people">People</Link>
        <Link to="/rules">House rules</Link>
        {(["light", "dark"] as const).map((theme) => (
          <Form key={theme} method="post" action="/theme" reloadDocument>
            <input type="hidden" name="next" value={here} />
            <button type="submit" name="theme" value={theme}>
              {theme === "light" ? "Daylight colours" : "Dark colours for dim rooms"}
            </button>
          </Form>
        ))}
        <Form method="post" action="/sign-out" reloadDocument>
          <button type="submit">Sign out and lock this device</button>
        </Form>
      </div>
    </details>
  );
}
