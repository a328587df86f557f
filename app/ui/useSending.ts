import { useNavigation } from "react-router";

/**
 * Whether a form of this page is on its way, until the page shows what came of it. Another page that is being opened keeps
 * nobody from sending: Enter does nothing in a form whose button is off, and what was pressed would be lost without a word.
 */
export function useSending(): boolean {
  const { formMethod } = useNavigation();
  return formMethod !== undefined && formMethod !== "GET";
}
