/** Which of several open tabs this is: a name that lasts over reloads, and a lock that tells others that the tab lives. */

const KEY = "glemmo tab";
const lockOf = (tab: string): string => `glemmo tab ${tab}`;

let own: Promise<string> | null = null;

/** The name of this tab, held for as long as it lives. */
export function thisTab(): Promise<string> {
  own ??= claim();
  return own;
}

async function claim(): Promise<string> {
  const remembered = read();
  // A tab that was duplicated has the name of the other one, which is held.
  if (remembered && (await hold(remembered))) return remembered;
  const fresh = crypto.randomUUID();
  await hold(fresh);
  try {
    sessionStorage.setItem(KEY, fresh);
  } catch {
    // Without storage the name lasts as long as the page.
  }
  return fresh;
}

function read(): string | null {
  try {
    return sessionStorage.getItem(KEY);
  } catch {
    return null;
  }
}

/** Takes a tab's lock until the page is left; false when another page has it. */
function hold(tab: string): Promise<boolean> {
  if (!navigator.locks) return Promise.resolve(true);
  return new Promise((done) => {
    void navigator.locks.request(lockOf(tab), { ifAvailable: true }, (lock) => {
      done(lock !== null);
      return lock ? new Promise<never>(() => undefined) : undefined;
    });
  });
}

/** Names of the tabs that are open now, among them this one. */
export async function livingTabs(): Promise<ReadonlySet<string>> {
  const own = await thisTab();
  const { held = [] } = (await navigator.locks?.query()) ?? {};
  const names = held.flatMap(({ name }) =>
    name?.startsWith(lockOf("")) ? name.slice(lockOf("").length) : [],
  );
  return new Set([own, ...names]);
}
