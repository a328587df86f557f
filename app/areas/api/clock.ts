/** The server's clock, for devices whose own may be off. */
export const loader = () => Response.json({ now: Date.now() }, { headers: { "Cache-Control": "no-store" } });
