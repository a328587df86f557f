import { type Drawn, type DrawnPart, drawResult } from "../../core/quality/monteCarlo";

export interface DrawQuestion {
  value: number;
  parts: DrawnPart[];
  draws: number;
}
export type DrawAnswer = { is: "progress"; share: number } | { is: "drawn"; drawn: Drawn };

self.onmessage = ({ data: { value, parts, draws } }: MessageEvent<DrawQuestion>) => {
  const answer = (found: DrawAnswer) => self.postMessage(found);
  const drawn = drawResult(value, parts, draws, 101, (share) => answer({ is: "progress", share }));
  answer({ is: "drawn", drawn });
};
