import { t } from '@lingui/core/macro';

import { useSharing } from '../state/sharing';
import { counted } from '../texts/numbers';

const LOOK = 'shrink-0 rounded border border-ink px-2 py-0.5 font-semibold';

/**
 * Says that others on the network see a shoot, as long as that is so; to a guest, under which name
 * they are there.
 */
export function SharedSign({ shoot, onOpen }: { shoot?: number; onOpen?: () => void }) {
  const sharing = useSharing();
  if (!sharing?.on) return null;
  if (sharing.guest) {
    const name = sharing.guest;
    return (
      <span role="status" className={LOOK} title={t`You are a guest on another computer’s Winnow`}>
        {t`guest: ${name}`}
      </span>
    );
  }
  const isThis = shoot === undefined || sharing.shoot === shoot;
  return (
    <button
      type="button"
      data-testid="shared"
      className={LOOK}
      title={
        isThis
          ? t`Others on the network see this shoot`
          : t`Others on the network see another shoot, not this one`
      }
      onClick={onOpen}
      disabled={!onOpen}
    >
      {isThis ? t`shared` : t`another is shared`}
      {sharing.guests.length > 0 && (
        <span className="font-normal"> · {counted(sharing.guests.length, 'guest')}</span>
      )}
    </button>
  );
}
