import { useMemo, useState } from 'react';

import { pictureUrl, type Label } from '../../api/client';
import type { Over } from '../../commands/stage';
import { MarksOver } from '../../parts/marks';
import { ZoomControl } from '../../parts/zoom-control';
import { groupHere } from '../../state/compare';
import { useShoot } from '../../state/shoot';
import type { Close } from '../../state/zoom';
import { FacePanel } from '../faces/face-panel';
import { MOST_COLUMNS } from '../faces/use-face-rows';
import { lookAtPoint } from '../faces/step';
import { FactsOver } from './facts-over';
import { Ladder } from './ladder';
import { Photograph } from './photograph';
import { useSubject } from './use-subject';

/** One frame, as large as it can be, with its group in the ladder at the right. */
export function FrameView({
  labels,
  facts,
  bare,
  over,
  close,
  glassScale,
  onClose,
  onStep,
}: {
  labels: readonly Label[];
  facts: boolean;
  bare: boolean;
  over: ReadonlySet<Over>;
  close: Close;
  glassScale: 1 | 2;
  onClose: (close: Close) => void;
  onStep: (way: 1 | -1) => void;
}) {
  const active = useShoot((state) => state.active);
  const frame = useShoot((state) => (active === null ? undefined : state.byId.get(active)));
  const mark = useShoot((state) => (active === null ? undefined : state.marks.get(active)));
  const { point, choose } = useSubject(frame, close > 0);
  const [loaded, setLoaded] = useState('');
  const [failed, setFailed] = useState('');
  const visible = useShoot((state) => state.visible);
  const columns = useMemo(
    () => nearest(active),
    // The group may be another one, or shown otherwise.
    // eslint-disable-next-line react-hooks/exhaustive-deps
    [active, frame?.group, visible],
  );

  if (!frame || !mark) return <div className="h-full bg-stage" />;
  return (
    <div className="flex h-full bg-stage max-[600px]:flex-col">
      <div className="flex min-h-0 min-w-0 flex-1 flex-col">
        <div className={`relative min-h-0 flex-1 ${bare ? '' : 'p-3'}`}>
          <div className="relative h-full w-full overflow-hidden">
            <Photograph
              frame={frame}
              over={over}
              close={close}
              glassScale={glassScale}
              point={point}
              onPoint={(at) => choose(frame, at)}
              onClose={onClose}
              onStep={onStep}
              loaded={loaded}
              onLoaded={setLoaded}
              failed={failed}
              onFailed={setFailed}
            >
              <MarksOver mark={mark} labels={labels} linked={!!frame.parts} large />
            </Photograph>
            {!bare && frame.picture === 2 && (
              // In the middle: the marks have the corners.
              <div className="absolute bottom-2 left-1/2 -translate-x-1/2">
                <ZoomControl
                  near={close}
                  kept={failed === pictureUrl(frame, 'full')}
                  onClose={onClose}
                />
              </div>
            )}
            {facts && !bare && (
              <FactsOver
                frame={frame}
                close={close}
                closeReady={loaded === pictureUrl(frame, 'full')}
                closeFailed={failed === pictureUrl(frame, 'full')}
              />
            )}
          </div>
        </div>
        {!bare && (
          <FacePanel
            ids={columns}
            onLook={(id, point) => {
              lookAtPoint('frame', id, point);
              onClose(1);
            }}
          />
        )}
      </div>
      {!bare && <Ladder labels={labels} />}
    </div>
  );
}

/** The frames of the group nearest to one, which stands among them. */
function nearest(active: number | null): readonly number[] {
  const members = groupHere();
  const at = members.indexOf(active ?? -1);
  if (at < 0) return active === null ? [] : [active];
  const from = Math.max(0, Math.min(at - MOST_COLUMNS / 2, members.length - MOST_COLUMNS));
  return members.slice(from, from + MOST_COLUMNS);
}
