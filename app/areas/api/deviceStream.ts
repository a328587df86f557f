import { deviceTime, findDevice, samplesBetween } from "../../server/devices/devices.server";
import { nowMs } from "../../server/platform/clock.server";
import { dbContext } from "../../server/platform/contexts.server";
import type { Route } from "./+types/deviceStream";

const tickMs = 250;
/** Seconds of the past sent at once, so that a reload does not start the wait for steadiness anew. */
const backlogS = 60;

/** The meter's live signal as server-sent events: a `medium` event when the probe moves, then lines of JSON samples. */
export async function loader({ request, params, context }: Route.LoaderArgs) {
  const db = context.get(dbContext);
  if (!(await findDevice(db, params.meterId)))
    throw new Response("This meter has no cable.", { status: 404 });
  const encoder = new TextEncoder();
  let timer: ReturnType<typeof setInterval>;
  const stream = new ReadableStream({
    start(controller) {
      let sentUntil = Number.NaN;
      let entered = Number.NaN;
      const tick = async () => {
        const device = await findDevice(db, params.meterId);
        if (!device || request.signal.aborted) return;
        const now = deviceTime(device, nowMs());
        const { entered_s, medium } = device.state;
        if (entered_s !== entered) {
          entered = entered_s;
          sentUntil = Math.max(entered_s, now - backlogS);
          const event = { label: medium.label, kind: medium.kind, entered_s, speed: device.speed };
          controller.enqueue(encoder.encode(`event: medium\ndata: ${JSON.stringify(event)}\n\n`));
        }
        const lines = samplesBetween(device, sentUntil, now).map((s) => `data: ${JSON.stringify(s)}\n`);
        sentUntil = now;
        if (lines.length) controller.enqueue(encoder.encode(`${lines.join("")}\n`));
      };
      const end = () => {
        clearInterval(timer);
        try {
          controller.close();
        } catch {
          // The reader has gone already; there is nobody left to close for.
        }
      };
      timer = setInterval(() => tick().catch(end), tickMs);
      request.signal.addEventListener("abort", end);
      tick().catch(end);
    },
    cancel() {
      clearInterval(timer);
    },
  });
  return new Response(stream, {
    headers: { "Content-Type": "text/event-stream", "Cache-Control": "no-store", "X-Accel-Buffering": "no" },
  });
}
