import { useMemo, useState } from 'react';
import { explainRate } from '#core/2-trade/media/explain.ts';
import { libraryFormats, type LibraryFormat } from '#core/2-trade/media/format-library.ts';
import { readFormatText } from '#core/2-trade/media/format-text.ts';
import { rateText } from '#core/1-ground/units/format.ts';
import { ChoiceItem, ChoiceList } from '../../kit/choices.tsx';
import { TextLine, type LineProps } from '../../kit/form.tsx';
import { ink } from '../../theme/tokens.ts';

const MOST_SHOWN = 80;

/** A format as one types it, with the library under it, narrowed by every word. */
export function FormatField(line: LineProps) {
  const { value, onChange } = line;
  const [search, setSearch] = useState('');
  const formats = useMemo(() => libraryFormats(search, MOST_SHOWN), [search]);
  const { streams: typed, assumed } = readFormatText(value);
  return (
    <>
      {/* What was taken where it can mean several stands in place of what may be typed. */}
      <TextLine {...line} help={assumed.length > 0 ? assumed.join(' ') : line.help} />
      <TextLine
        label="Library"
        help={
          formats.length === 0
            ? 'Nothing fits these words.'
            : formats.length === MOST_SHOWN
              ? `The first ${MOST_SHOWN}: every word narrows it, such as UHD, 25p, 10 bit or a codec’s name.`
              : `${formats.length} fit.`
        }
        value={search}
        placeholder="search by codec, raster, frame rate"
        onChange={setSearch}
      />
      <ChoiceList role="listbox" label="Formats of the library" isBoxed>
        {formats.map((one) => (
          <LibraryLine
            key={one.text}
            entry={one}
            chosen={one.text === value}
            onChoose={() => onChange(typed !== null && typed > 1 ? `${one.text} ×${typed}` : one.text)}
          />
        ))}
      </ChoiceList>
    </>
  );
}

function LibraryLine({ entry, chosen, onChoose }: { entry: LibraryFormat; chosen: boolean; onChoose: () => void }) {
  return (
    <ChoiceItem look="row" chosen={chosen} onChoose={onChoose} more={explainRate(entry.format).join('\n')}>
      <span>{entry.text}</span>
      <span style={{ color: ink('second'), whiteSpace: 'nowrap' }}>{rateText(entry.bytesPerSecond)}</span>
    </ChoiceItem>
  );
}
