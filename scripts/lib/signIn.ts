import demo from "../../demo/signIn.json";

/** Signs one of the demo's people in, as a browser does. Returns the cookie that says so. */
export async function signIn(base: string, name: string): Promise<string> {
  const people = await (await fetch(`${base}/sign-in`)).text();
  const person = new RegExp(`as=([^"&]+)[^>]*>${name}`).exec(people)?.[1] ?? "";
  const answer = await fetch(`${base}/sign-in`, {
    method: "POST",
    body: new URLSearchParams({ person, do: "password", password: demo.password }),
    redirect: "manual",
    headers: { Origin: base },
  });
  const cookie = answer.headers
    .getSetCookie()
    .map((text) => text.split(";")[0])
    .find((text) => text?.startsWith("session="));
  if (!cookie) throw new Error(`${name} could not be signed in.`);
  return cookie;
}
