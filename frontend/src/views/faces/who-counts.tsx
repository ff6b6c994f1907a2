import { t } from '@lingui/core/macro';
import { Trans } from '@lingui/react/macro';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { DropdownMenu } from 'radix-ui';
import { useState } from 'react';

import { api, ask, inWords } from '../../api/client';
import { keepFocus } from '../../parts/keep-focus';
import { BOX, ITEM, LINE } from '../../parts/menu';
import { middleOf, type Face, type Weight } from '../../state/faces';
import { useShoot } from '../../state/shoot';
import { counted } from '../../texts/numbers';

const WORDS: Record<Weight, string> = {
  most: t`counts most`,
  '': t`counts like the others`,
  none: t`doesn’t count`,
};
const SIGNS: Record<Weight, string> = { most: '▲', '': '', none: '–' };

/** How much a person's face counts, over its row: said for their groups, or for the whole shoot. */
export function WhoCounts({ faces }: { faces: readonly (Face | null)[] }) {
  const shootId = useShoot((state) => state.shootId);
  const say = useShoot((state) => state.say);
  const client = useQueryClient();
  const [open, setOpen] = useState(false);
  const { data: people } = useQuery({
    queryKey: ['people', shootId, 'on'],
    queryFn: () =>
      ask(api.GET('/api/shoots/{shoot}/people', { params: { path: { shoot: shootId } } })),
    enabled: open,
  });
  const seen = faces.filter((face) => face !== null);
  const now = seen.find((face) => face.weight)?.weight ?? '';
  const { mutate } = useMutation({
    mutationFn: ({ weight, everywhere }: { weight: Weight; everywhere: boolean }) =>
      ask(
        api.PUT('/api/shoots/{shoot}/faces/counts', {
          params: { path: { shoot: shootId } },
          body: {
            faces: seen.map((face) => ({ frame: face.frame, ...middleOf(face) })),
            weight,
            everywhere,
          },
        }),
      ),
    onSuccess: ({ frames }, { weight }) => {
      const how = WORDS[weight];
      const where = counted(frames, 'frame');
      say(t`This face ${how} in ${where}; the order of its frames follows`);
      void client.invalidateQueries({ queryKey: ['rows of faces', shootId] });
    },
    onError: (error) => say(inWords(error), true),
  });
  const items = (everywhere: boolean) =>
    (['most', '', 'none'] as const).map((weight) => (
      <DropdownMenu.Item
        key={weight}
        className={ITEM}
        disabled={everywhere && !people?.on}
        onSelect={() => mutate({ weight, everywhere })}
      >
        <span aria-hidden className="w-3 text-center">
          {SIGNS[weight]}
        </span>
        {WORDS[weight]}
        {!everywhere && weight === now && (
          <span className="ml-auto text-quiet">
            <Trans>now</Trans>
          </span>
        )}
      </DropdownMenu.Item>
    ));
  return (
    <DropdownMenu.Root modal={false} open={open} onOpenChange={setOpen}>
      <DropdownMenu.Trigger
        className={`sticky left-2 rounded hover:bg-black/40 ${now ? 'font-bold' : ''}`}
        onMouseDown={keepFocus}
        title={t`How much this face counts in the order of its group`}
      >
        {SIGNS[now]} {WORDS[now]} ▾
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content
          align="start"
          sideOffset={4}
          className={BOX}
          onCloseAutoFocus={(event) => event.preventDefault()}
        >
          <DropdownMenu.Label className="px-2 py-1 text-quiet">
            <Trans>In its group</Trans>
          </DropdownMenu.Label>
          {items(false)}
          <DropdownMenu.Separator className={LINE} />
          <DropdownMenu.Label className="max-w-72 px-2 py-1 text-quiet">
            {people && !people.on ? (
              <Trans>In the whole shoot: once people are told apart (“Who is in it”)</Trans>
            ) : (
              <Trans>In the whole shoot</Trans>
            )}
          </DropdownMenu.Label>
          {items(true)}
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}
