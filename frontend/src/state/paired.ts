/** Two windows on one shoot, for two screens: the same frame is active in both. */
import { useShoot } from './shoot';

const PARAMETER = 'pair';
const KEY = 'winnow.pair';

interface Told {
  shootId: number;
  active: number | null;
}

/** This window's pair: named in its address where another window opened it, else its own. */
function pairName(): string {
  const named = new URLSearchParams(window.location.search).get(PARAMETER);
  const known = named ?? sessionStorage.getItem(KEY) ?? Math.random().toString(36).slice(2);
  sessionStorage.setItem(KEY, known);
  return known;
}

/** Whether this window was opened by another one as its second. */
export function isSecond(): boolean {
  return new URLSearchParams(window.location.search).has(PARAMETER);
}

/** Open the second window; false where the browser doesn't let it open. */
export function openSecond(shootId: number): boolean {
  const { availWidth, availHeight } = window.screen;
  const opened = window.open(
    `/shoots/${shootId}/frame?${PARAMETER}=${pairName()}`,
    `winnow-second-${pairName()}`,
    `popup,width=${Math.min(1280, availWidth)},height=${Math.min(800, availHeight)}`,
  );
  return opened !== null;
}

/** Keep the active frame the same in both windows, until the returned function is called. */
export function followPair(shootId: number): () => void {
  const channel = new BroadcastChannel(`winnow.${pairName()}`);
  let heard: number | null = null;
  const tell = () => channel.postMessage({ shootId, active: useShoot.getState().active });
  channel.onmessage = ({ data }: MessageEvent<Told | 'hello'>) => {
    if (data === 'hello') {
      tell();
      return;
    }
    if (data.shootId !== shootId || data.active === null) return;
    heard = data.active;
    useShoot.getState().go(data.active);
  };
  const stop = useShoot.subscribe((now, before) => {
    if (now.active === before.active || now.shootId !== shootId) return;
    // What the other window said is not said back to it.
    if (now.active !== heard && now.moved) tell();
    heard = null;
  });
  channel.postMessage('hello');
  return () => {
    stop();
    channel.close();
  };
}
