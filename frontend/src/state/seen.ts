/**
 * Which frames were looked at: the active one, once it stays for a moment, and those that are large
 * on the stage.
 */
import { api, ask } from '../api/client';
import { useShoot } from './shoot';

/** Who flies past frames doesn't look at them. */
const MOMENT_MS = 120;
const SEND_MS = 1500;

const waiting = new Set<number>();
/** the shoot that those are of */
let shoot = 0;
let timer: ReturnType<typeof setTimeout> | undefined;

/** Note frames as looked at; they are sent together, a little later. */
export function noteSeen(ids: readonly number[]): void {
  const fresh = useShoot.getState().look(ids);
  if (fresh.length) shoot = useShoot.getState().shootId;
  for (const id of fresh) waiting.add(id);
  if (fresh.length) timer ??= setTimeout(() => send(), SEND_MS);
}

function send(keepalive = false): void {
  clearTimeout(timer);
  timer = undefined;
  const frames = [...waiting];
  waiting.clear();
  if (!frames.length) return;
  // What isn't stored is noted when it is looked at again.
  ask(
    api.POST('/api/shoots/{shoot}/seen', {
      params: { path: { shoot } },
      body: { frames },
      keepalive,
    }),
  ).catch(() => undefined);
}

/** Note what is looked at in a shoot, until the returned function is called. */
export function followSeen(shootId: number): () => void {
  let moment: ReturnType<typeof setTimeout> | undefined;
  const look = () => {
    const { active, moved, held, shootId: now } = useShoot.getState();
    if (now !== shootId) return;
    noteSeen([...held, ...(moved && active !== null ? [active] : [])]);
  };
  const stop = useShoot.subscribe((now, before) => {
    if (now.active === before.active && now.held === before.held && now.moved === before.moved)
      return;
    clearTimeout(moment);
    moment = setTimeout(look, MOMENT_MS);
  });
  const leave = () => send(true);
  window.addEventListener('pagehide', leave);
  look();
  return () => {
    stop();
    clearTimeout(moment);
    window.removeEventListener('pagehide', leave);
    send();
  };
}
