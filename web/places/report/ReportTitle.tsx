import Divider from '@mui/material/Divider';
import MenuItem from '@mui/material/MenuItem';
import { useRef, useState } from 'react';
import { useNavigate } from 'react-router';
import type { ReportEntry } from '#core/6-exchange/api/wire.ts';
import { FileInput } from '../../kit/FileInput.tsx';
import { MenuButton } from '../../kit/MenuButton.tsx';
import { PlaceTitle } from '../../kit/Tip.tsx';
import { useLibrary } from '../../state/library.ts';
import { beginReport, copyReport, deleteReport, readReport, type Changed } from '../../state/report-edits.ts';
import { ink } from '../../theme/tokens.ts';

interface ReportTitleProps {
  report: ReportEntry | undefined;
  onProblem: (sentence: string | undefined) => void;
}

/** The report's name, and under it the others and what can be done with this one. */
export function ReportTitle({ report, onProblem }: ReportTitleProps) {
  const reports = useLibrary((state) => state.reports);
  const navigate = useNavigate();
  const [isAsked, setAsked] = useState(false);
  const file = useRef<HTMLInputElement>(null);
  const open = (id: string) => void navigate(`/report/${encodeURIComponent(id)}`);
  const attempt = async (doing: Promise<Changed>) => {
    const { report: changed, problem } = await doing;
    onProblem(problem);
    if (changed) open(changed.outline.id);
  };
  return (
    <>
      <MenuButton
        help="Reports, and what can be done with this one"
        onClose={() => setAsked(false)}
        items={(close) => [
          ...reports.map(({ outline, title }) => (
            <MenuItem
              key={outline.id}
              selected={outline.id === report?.outline.id}
              onClick={() => {
                close();
                open(outline.id);
              }}
            >
              {title}
              {outline.example && <span style={{ color: ink('second'), marginLeft: 10, fontSize: 12.5 }}>example</span>}
            </MenuItem>
          )),
          ...(reports.length > 0 ? [<Divider key="line" />] : []),
          <MenuItem
            key="new"
            onClick={() => {
              close();
              void attempt(beginReport());
            }}
          >
            New report
          </MenuItem>,
          <MenuItem
            key="read"
            onClick={() => {
              close();
              file.current?.click();
            }}
          >
            Open a report from a file
          </MenuItem>,
          ...(report
            ? [
                <MenuItem
                  key="copy"
                  onClick={() => {
                    close();
                    void attempt(copyReport(report.outline.id));
                  }}
                >
                  Copy this one
                </MenuItem>,
                <MenuItem
                  key="delete"
                  onClick={() => {
                    if (!isAsked) {
                      setAsked(true);
                      return;
                    }
                    close();
                    void deleteReport(report.outline.id).then((problem) => {
                      onProblem(problem);
                      if (problem === undefined) void navigate('/report');
                    });
                  }}
                  sx={isAsked ? { color: ink('breaks') } : {}}
                >
                  {isAsked ? 'Delete this one for good' : 'Delete this one'}
                </MenuItem>,
              ]
            : []),
        ]}
      >
        <PlaceTitle name={report?.title ?? 'Report'} />
        {report?.outline.example && <span style={{ color: ink('second'), fontSize: 13 }}>example</span>}
      </MenuButton>
      <FileInput
        label="Report file"
        input={file}
        accept=".pdf,.html,.json,application/pdf,text/html,application/json"
        onFile={(chosen) => void attempt(readReport(chosen))}
      />
    </>
  );
}
