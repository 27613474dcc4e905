/** Practice has the same stations over a file of its own: its pages lie under /practice, and the API of its jobs too. */
export const PRACTICE = "/practice";

export const PRACTISING = typeof window !== "undefined" && (window.location.pathname === PRACTICE || window.location.pathname.startsWith(`${PRACTICE}/`));

/** Of the server, whichever file is open. */
const OF_THE_SERVER = ["/api/practice", "/api/session", "/api/people", "/api/workshop-name", "/api/job-defaults"];

/** Where an address of the API lies while somebody practises, or does not. */
export function apiPath(path: string, practising: boolean = PRACTISING): string {
  const common = OF_THE_SERVER.some((one) => path === one || path.startsWith(`${one}/`) || path.startsWith(`${one}?`));
  return practising && !common ? `${PRACTICE}${path}` : path;
}
