import { t } from '@lingui/core/macro';
import { Trans } from '@lingui/react/macro';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';

import { api, ask, inWords, type Recipe } from '../../../api/client';
import { Button } from '../../../parts/button';
import { useShoot } from '../../../state/shoot';

/** Deliveries that are made again and again, kept under a name. */
export function Recipes({ wish, onUse }: { wish: Recipe; onUse: (recipe: Recipe) => void }) {
  const client = useQueryClient();
  const [name, setName] = useState('');
  const [used, setUsed] = useState('');
  const { data: recipes } = useQuery({
    queryKey: ['recipes'],
    queryFn: () => ask(api.GET('/api/recipes')),
  });
  const failed = (error: unknown) => useShoot.getState().say(inWords(error), true);
  const kept = (after: Recipe[]) => {
    client.setQueryData(['recipes'], after);
    setName('');
  };
  const save = useMutation({
    mutationFn: (body: Recipe) => ask(api.PUT('/api/recipes', { body })),
    onSuccess: (after, { name: saved }) => {
      kept(after);
      setUsed(saved);
    },
    onError: failed,
  });
  const forget = useMutation({
    mutationFn: (gone: string) =>
      ask(api.DELETE('/api/recipes', { params: { query: { name: gone } } })),
    onSuccess: (after) => {
      kept(after);
      setUsed('');
    },
    onError: failed,
  });
  const keep = () => name.trim() && save.mutate({ ...wish, name: name.trim() });
  return (
    <div className="flex flex-wrap items-center gap-3">
      {!!recipes?.length && (
        <select
          aria-label={t`Recipe`}
          className="h-8 rounded border border-line bg-paper px-2"
          value={used}
          onChange={(event) => {
            const recipe = recipes.find((recipe) => recipe.name === event.target.value);
            setUsed(event.target.value);
            if (recipe) onUse(recipe);
          }}
        >
          <option value="">{t`no recipe`}</option>
          {recipes.map((recipe) => (
            <option key={recipe.name}>{recipe.name}</option>
          ))}
        </select>
      )}
      {used && (
        <button type="button" className="underline" onClick={() => forget.mutate(used)}>
          <Trans>forget it</Trans>
        </button>
      )}
      <input
        type="text"
        aria-label={t`Name of a new recipe`}
        placeholder={t`keep as a recipe …`}
        maxLength={60}
        className="h-8 w-48 rounded border border-line bg-paper px-2"
        value={name}
        onChange={(event) => setName(event.target.value)}
        onKeyDown={(event) => event.key === 'Enter' && keep()}
      />
      {name.trim() && (
        <Button onClick={keep}>
          <Trans>Keep</Trans>
        </Button>
      )}
    </div>
  );
}
