/** What the commands for looking do: close, drawn over the picture, faces, turning, surround. */
import { t } from '@lingui/core/macro';
import type { Dispatch, SetStateAction } from 'react';

import { api, ask, type Settings } from '../../api/client';
import type { LookActs, Over, View } from '../../commands/stage';
import { useFaces } from '../../state/faces';
import { targets } from '../../state/marking';
import { useOutline } from '../../state/outline';
import { openSecond } from '../../state/paired';
import { useShoot } from '../../state/shoot';
import { fitFace, stepFace } from '../faces/step';
import { type Close, STEP_BY, zoomed } from '../../state/zoom';

const SURROUND_WORDS = { dark: t`dark`, middle: t`middle`, light: t`light` };
const SURROUNDS: readonly Settings['surround'][] = ['dark', 'middle', 'light'];

export interface Looking {
  shootId: number;
  view: View;
  settings: Settings;
  save: (settings: Settings) => void;
  /** waits for what is asked of the server, and says what went wrong */
  act: (work: Promise<unknown>) => void;
  setClose: Dispatch<SetStateAction<Close>>;
  setBare: Dispatch<SetStateAction<boolean>>;
  setOver: Dispatch<SetStateAction<ReadonlySet<Over>>>;
}

export function lookActs(looking: Looking): LookActs {
  const { shootId, view, settings, save, act, setClose, setBare, setOver } = looking;
  const { say } = useShoot.getState();
  return {
    lookClose: (scale) => setClose((now) => (now === scale ? 0 : scale)),
    zoom: (way) => setClose((now) => zoomed(now, way === 1 ? STEP_BY : 1 / STEP_BY)),
    toggleBare: () => setBare((on) => !on),
    fullScreen: () => {
      const change = document.fullscreenElement
        ? document.exitFullscreen()
        : document.documentElement.requestFullscreen();
      change.catch(() => say(t`This browser allows no full screen here.`, true));
    },
    toggleFacts: () => save({ ...settings, facts_shown: !settings.facts_shown }),
    toggleOver: (what) =>
      setOver((now) => {
        const next = new Set(now);
        if (!next.delete(what)) next.add(what);
        return next;
      }),
    toggleOutline: () => {
      const on = !useOutline.getState().on;
      useOutline.setState({ on });
      say(on ? t`The measured part is outlined` : t`No outline`);
    },
    toggleFaces: () => useFaces.setState(({ open }) => ({ open: !open })),
    stepFace: (way) => void stepFace(view, way, () => setClose((now) => now || 1)),
    fitFace: () => void fitFace(view, setClose),
    turn: (by) => {
      const body = { frames: [...targets()], by };
      const params = { path: { shoot: shootId } };
      act(ask(api.POST('/api/shoots/{shoot}/turn', { params, body })));
      say(by === 1 ? t`Turned right, on screen only` : t`Turned left, on screen only`);
    },
    cycleSurround: () => {
      const next = SURROUNDS[(SURROUNDS.indexOf(settings.surround) + 1) % SURROUNDS.length]!;
      save({ ...settings, surround: next });
      say(t`Surround: ${SURROUND_WORDS[next]}`);
    },
    openSecond: () => {
      if (!openSecond(shootId))
        say(t`The browser doesn’t let a second window open. Allow it, please.`, true);
    },
  };
}
