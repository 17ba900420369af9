/** A locked note in the library: that there is one, when it was changed, and its title unless that is hidden too. */
import { memo } from 'react';
import { HIDDEN_TITLE } from '../../core/formats/archive';
import type { Cover } from '../../core/vault/vault';
import { Icon } from '../../ui/icons';

const DAY = new Intl.DateTimeFormat('en-GB', { day: 'numeric', month: 'short', year: 'numeric' });

export const LockedNote = memo(function LockedNote({ cover, view, color, onOpen }: { cover: Cover; view: 'list' | 'pictures'; color: string; onOpen: (id: string) => void }) {
  const title = cover.title ?? HIDDEN_TITLE;
  const row = view === 'list';
  return (
    <div className={row ? 'note-row' : 'note-card'}>
      <button type="button" className={row ? 'note-open' : 'note-card-open'} aria-label={`Unlock ${title}`} onClick={() => onOpen(cover.id)}>
        <span className={`${row ? 'note-sheet' : 'note-card-sheet'} note-shut`} style={row ? { aspectRatio: '210 / 297' } : undefined}>
          <Icon name="lock" size={22} color={color} />
        </span>
        <span className={row ? 'note-text' : 'note-title'}>
          {row ? <span className="note-title">{title}</span> : title}
          {row && (
            <span className="note-facts">
              {cover.changed > 0 && `${DAY.format(cover.changed)} · `}
              Locked
            </span>
          )}
        </span>
        {!row && <span className="note-facts">Locked</span>}
      </button>
    </div>
  );
});
