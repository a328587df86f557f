import { type Hazard, hazardWords } from "../../core/stock/hazards";

/** What stands in each red square, drawn on a field of 40 by 40 around its middle. */
const drawings: Record<Hazard, React.ReactNode> = {
  flammable: (
    <>
      <path d="M0 -14c6 5 9 9 7 15 2 0 3-2 3-4 3 6-1 12-10 12s-13-6-10-12c1 2 2 3 4 3-2-6 5-8 6-14Z" />
      <path d="M-11 12h22v3h-22z" />
    </>
  ),
  oxidising: (
    <>
      <circle cx="0" cy="6" r="7" fill="none" stroke="currentColor" strokeWidth="2.6" />
      <path d="M0 -15c4 4 6 6 5 9 1 0 2-1 2-2 2 4 0 7-7 7s-9-3-7-7c1 1 1 2 2 2-1-4 4-5 5-9Z" />
      <path d="M-11 14h22v2.6h-22z" />
    </>
  ),
  corrosive: (
    <>
      <path d="M-14 -13l9 4-2 4-9-4zM14 -13l-9 4 2 4 9-4z" />
      <path d="M-8 -3l1 3M-10 -2l-1 3M8 -3l-1 3M10 -2l1 3" stroke="currentColor" strokeWidth="1.6" />
      <path d="M-15 6h5c2 0 3 3 5 3s2-3 4-3v6h-14zM3 7c4-4 6 2 12 1v3H3z" />
    </>
  ),
  toxic: (
    <>
      <path d="M0 -14c7 0 10 4 10 9 0 3-2 4-4 6l-1 3H-5l-1-3c-2-2-4-3-4-6 0-5 3-9 10-9Z" />
      <g fill="#fff">
        <circle cx="-4" cy="-4" r="2.6" />
        <circle cx="4" cy="-4" r="2.6" />
      </g>
      <path d="M-13 6l26 9M13 6l-26 9" stroke="currentColor" strokeWidth="3" strokeLinecap="round" />
    </>
  ),
  harmful: (
    <>
      <path d="M-2.8 -14h5.6l-1 18h-3.6z" />
      <circle cx="0" cy="10" r="3" />
    </>
  ),
  health: (
    <>
      <circle cx="0" cy="-10" r="5" />
      <path d="M-11 15V3c0-5 4-7 11-7s11 2 11 7v12z" />
      <path d="M0 -1l1.6 4.4L6 5 1.6 6.6 0 11l-1.6-4.4L-6 5l4.4-1.6z" fill="#fff" />
    </>
  ),
  environment: (
    <>
      <path d="M-15 10c6-2 10 1 16 0 4-1 8 0 14 2v3h-30z" />
      <path
        d="M3 7V-6M3 -3l6-6M3 0l-5-6M9 -9l4 0M9 -9l0-4M-2 -6l-4-1"
        stroke="currentColor"
        strokeWidth="2"
      />
      <path d="M-15 4c3-4 7-4 10 0l3-2v5l-3-2c-3 3-7 3-10-1Z" />
    </>
  ),
  gas: <path d="M-15 6l4-6h19a5 5 0 0 1 0 10h-19zM-16 3h3v6h-3z" transform="rotate(-24)" />,
  explosive: (
    <>
      <circle cx="-2" cy="5" r="7" />
      <path
        d="M3 -1l6-8M9 -9l4 3M9 -9l-1-6M-12 -4l-3-3M-6 -8l-1-6M13 3l4 1M-13 6l-4 1"
        stroke="currentColor"
        strokeWidth="2"
      />
    </>
  ),
};

/** The pictograms of the international system, each with its words for those who do not see it. */
export const Pictograms = ({ hazards }: { hazards: readonly Hazard[] }) =>
  hazards.length === 0 ? null : (
    <ul className="pictograms">
      {hazards.map((hazard) => (
        <li key={hazard}>
          <svg viewBox="-30 -30 60 60" role="img" aria-label={hazardWords[hazard]}>
            <path d="M0 -27L27 0 0 27 -27 0Z" fill="#fff" stroke="#c8102e" strokeWidth="3.4" />
            <g fill="#111" color="#111" transform="scale(0.86)">
              {drawings[hazard]}
            </g>
          </svg>
        </li>
      ))}
    </ul>
  );
