import Button from '@mui/material/Button';
import { useState } from 'react';
import { PAPERS, type Paper, type ReportOutline } from '#core/6-exchange/report/report.ts';
import { ChoiceLine, TextLine } from '../../kit/form.tsx';
import { SideSheet } from '../../kit/SideSheet.tsx';

interface TitleSheetProps {
  outline: ReportOutline;
  onClose: () => void;
  onSave: (outline: ReportOutline) => void;
}

const LONGEST = 200;
const PAPER_NAMES: Record<Paper, string> = { a4: 'A4', letter: 'Letter' };

/** What stands above a report: its title, who wrote it for whom and when; and the paper that it is set for. */
export default function TitleSheet({ outline, onClose, onSave }: TitleSheetProps) {
  const [texts, setTexts] = useState(outline);
  const set = (change: Partial<ReportOutline>) => setTexts((old) => ({ ...old, ...change }));
  const tooLong = (text: string) => (text.length > LONGEST ? { error: `At most ${LONGEST} characters.` } : {});
  const isDay = /^\d{4}-\d\d-\d\d$/.test(texts.date) && !Number.isNaN(Date.parse(texts.date));
  const isFine = isDay && [texts.title, texts.byWhom, texts.forWhom].every((text) => text.length <= LONGEST);
  return (
    <SideSheet
      title="Title and paper"
      onClose={onClose}
      actions={
        <Button variant="contained" disabled={!isFine} onClick={() => onSave(texts)}>
          Keep
        </Button>
      }
    >
      <TextLine
        label="Title"
        help="Without one the first question is the title."
        placeholder={outline.asked[0]?.question ?? 'Report'}
        value={texts.title}
        {...tooLong(texts.title)}
        onChange={(title) => set({ title })}
      />
      {texts.asked.map((asked, index) => (
        <TextLine
          key={asked.id}
          label={texts.asked.length > 1 ? `Question ${index + 1}` : 'Question'}
          help="As it is asked in the report."
          value={asked.question}
          lines={2}
          onChange={(question) =>
            set({ asked: texts.asked.map((one) => (one.id === asked.id ? { ...one, question } : one)) })
          }
        />
      ))}
      <TextLine
        label="By"
        help="Who wrote it. It stays when the report is for others."
        value={texts.byWhom}
        {...tooLong(texts.byWhom)}
        onChange={(byWhom) => set({ byWhom })}
      />
      <TextLine
        label="For"
        help="Such as: the production office."
        value={texts.forWhom}
        {...tooLong(texts.forWhom)}
        onChange={(forWhom) => set({ forWhom })}
      />
      <TextLine
        label="Date"
        help="As 2026-03-12."
        value={texts.date}
        {...(isDay ? {} : { error: 'Write a day as 2026-03-12.' })}
        onChange={(date) => set({ date: date.trim() })}
      />
      <ChoiceLine
        label="Paper"
        help="What the PDF is set for."
        value={texts.paper}
        options={PAPERS.map((paper) => [paper, PAPER_NAMES[paper]])}
        onChange={(paper) => set({ paper: paper as Paper })}
      />
    </SideSheet>
  );
}
