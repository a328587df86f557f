import { Input } from "antd";
import { useCallback, useEffect, useMemo, useState } from "react";
import { useFetcher, useNavigate } from "react-router";
import type { Place } from "../../server/day/jump.server";
import { Dialog } from "../../ui/Dialog";
import { areas } from "./areas";

/** Type a few letters of any place, Enter goes there. */
export default function JumpBox({ onClose }: { onClose(): void }) {
  const fetcher = useFetcher<Place[]>();
  const navigate = useNavigate();
  const [text, setText] = useState("");
  const [chosen, setChosen] = useState(0);
  const { load } = fetcher;
  useEffect(() => {
    load("/jump");
  }, [load]);
  const found = useMemo(() => {
    const words = text.toLowerCase().split(/\s+/).filter(Boolean);
    const all = [
      ...areas.map((a) => ({ label: a.name, detail: "area", href: a.href as string })),
      { label: "House rules", detail: "", href: "/rules" },
      ...(fetcher.data ?? []),
    ];
    // A name that begins with what was typed comes before one that merely holds the words.
    const rank = (p: Place) => {
      const label = p.label.toLowerCase();
      return label.startsWith(text.toLowerCase().trim()) ? 0 : words.every((w) => label.includes(w)) ? 1 : 2;
    };
    const typed = text.trim();
    const places = all
      .filter((p) => words.every((w) => `${p.label} ${p.detail}`.toLowerCase().includes(w)))
      .sort((a, b) => rank(a) - rank(b))
      .slice(0, 8);
    if (places.length > 0 || !fetcher.data || typed.length < 3 || !/\d/.test(typed)) return places;
    // What no place is called may be a sample's code, scanned or typed: the register knows.
    const href = `/find?code=${encodeURIComponent(typed)}`;
    return [{ label: `Sample ${typed}`, detail: "look it up", href }];
  }, [text, fetcher.data]);
  const go = useCallback(
    (href: string | undefined) => {
      if (!href) return;
      onClose();
      navigate(href);
    },
    [onClose, navigate],
  );
  // A scanner is quicker than the list: its Enter is kept until the places are here.
  const [entered, setEntered] = useState(false);
  useEffect(() => {
    if (entered && fetcher.data) go(found[chosen]?.href);
  }, [entered, fetcher.data, found, chosen, go]);
  return (
    <Dialog onClose={onClose} closable={false} title="Jump to" width={520}>
      <Input
        size="large"
        autoFocus
        aria-label="Jump to"
        placeholder="A meter, a site, a lot, a sample's code"
        value={text}
        onChange={(event) => {
          setText(event.target.value);
          setChosen(0);
          setEntered(false);
        }}
        onKeyDown={(event) => {
          if (event.key === "ArrowDown") setChosen((i) => Math.min(i + 1, found.length - 1));
          else if (event.key === "ArrowUp") setChosen((i) => Math.max(i - 1, 0));
          else if (event.key === "Enter") setEntered(true);
          else return;
          event.preventDefault();
        }}
      />
      <ul className="jump-list">
        {found.map((place, i) => (
          <li key={place.href + place.label}>
            <button type="button" className={i === chosen ? "on" : ""} onClick={() => go(place.href)}>
              {place.label} <span className="quiet">{place.detail}</span>
            </button>
          </li>
        ))}
        {found.length === 0 && <li className="quiet empty">Nothing here is called that.</li>}
      </ul>
    </Dialog>
  );
}
