import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import { Suspense, lazy, useEffect, useState } from 'react';
import { useNavigate, useParams } from 'react-router';
import type { ReportEntry, ReportPages } from '#core/6-exchange/api/wire.ts';
import { Problem } from '#core/1-ground/problem.ts';
import type { ReportOutline } from '#core/6-exchange/report/report.ts';
import { api } from '../../api/client.ts';
import { PlaceLayout } from '../../frame/PlaceLayout.tsx';
import { useShortcuts } from '../../frame/shortcuts.ts';
import { saveBlob } from '../../kit/save-json.ts';
import { ScrollBox } from '../../kit/ScrollBox.tsx';
import { EmptyPlace, ProblemText } from '../../kit/words.tsx';
import { useContextStore } from '../../state/context.ts';
import { loaderOf, useLibrary } from '../../state/library.ts';
import { beginReport, currentReport, renewReport, saveReport } from '../../state/report-edits.ts';
import { PageSheet } from './PageSheet.tsx';
import { ReportColumn } from './ReportColumn.tsx';
import { ReportTitle } from './ReportTitle.tsx';

const TitleSheet = lazy(() => import('./TitleSheet.tsx'));

export const loader = loaderOf('reports', 'reportId', 'report');

const FORMS = [
  ['pdf', 'PDF'],
  ['html', 'HTML'],
  ['csv', 'CSV'],
] as const;

/** Report: what was found out, on pages, for others. */
export function Component() {
  const { reportId } = useParams();
  const navigate = useNavigate();
  const reports = useLibrary((state) => state.reports);
  const chosenId = useContextStore((state) => state.reportId);
  const [problem, setProblem] = useState<string>();
  const report =
    reportId === undefined
      ? (currentReport(reports, chosenId) ?? reports[0])
      : reports.find(({ outline }) => outline.id === reportId);
  // What is put in next goes into the report that was opened last.
  useEffect(() => {
    if (reportId !== undefined) useContextStore.getState().set({ reportId });
  }, [reportId]);
  if (!report) {
    return (
      <PlaceLayout>
        <Box sx={{ flex: 'none' }}>
          <ReportTitle report={undefined} onProblem={setProblem} />
        </Box>
        {problem !== undefined && <ProblemText>{problem}</ProblemText>}
        <EmptyPlace
          isPart
          title="No report yet"
          action={
            <Button
              variant="contained"
              onClick={() =>
                void beginReport().then(({ report: begun, problem: why }) => {
                  setProblem(why);
                  if (begun) void navigate(`/report/${begun.outline.id}`);
                })
              }
            >
              Begin a report
            </Button>
          }
        >
          Pages for a producer or a colleague will be here: the question and its answer, what was measured, what is not
          proven. Press e wherever something is shown, and it is put in.
        </EmptyPlace>
      </PlaceLayout>
    );
  }
  return <OpenReport key={report.outline.id} report={report} problem={problem} onProblem={setProblem} />;
}

interface OpenReportProps {
  report: ReportEntry;
  problem: string | undefined;
  onProblem: (sentence: string | undefined) => void;
}

function OpenReport({ report, problem, onProblem }: OpenReportProps) {
  const { outline } = report;
  const { pages, changes, fault } = usePages(report);
  const [selected, setSelected] = useState<string | null>(outline.parts[0]?.id ?? null);
  const [isTitling, setTitling] = useState(false);
  const [writing, setWriting] = useState<string | null>(null);
  const save = async (next: ReportOutline) => onProblem((await saveReport(next)).problem);
  const hasParts = outline.parts.some(({ isLeftOut }) => !isLeftOut);

  const write = async (form: string) => {
    setWriting(form);
    try {
      saveBlob(report.title, form, await api.reportFile(outline.id, form));
      onProblem(undefined);
    } catch (error) {
      onProblem(error instanceof Problem ? error.detail : String(error));
    }
    setWriting(null);
  };
  useShortcuts((key) => {
    const step = { j: 1, k: -1 }[key];
    if (step === undefined) return;
    const next = outline.parts[outline.parts.findIndex(({ id }) => id === selected) + step];
    if (next) setSelected(next.id);
  });

  return (
    <>
      <PlaceLayout
        column={
          <ReportColumn
            outline={outline}
            pages={pages}
            changes={changes}
            selected={selected}
            onSelect={setSelected}
            onOutline={(next) => void save(next)}
            onTitle={() => setTitling(true)}
            onRenew={() => void renewReport(outline.id).then((renewed) => onProblem(renewed.problem))}
          />
        }
        actions={
          <Box sx={{ display: 'flex', gap: 1 }}>
            {FORMS.map(([form, name]) => (
              <Button
                key={form}
                variant={form === 'pdf' ? 'contained' : 'outlined'}
                disabled={!hasParts || writing !== null}
                onClick={() => void write(form)}
                sx={{ flex: form === 'pdf' ? 1 : 'none' }}
              >
                {writing === form ? 'Writing' : name}
              </Button>
            ))}
          </Box>
        }
      >
        <Box sx={{ display: 'flex', flex: 'none', minWidth: 0, mb: 1 }}>
          <ReportTitle report={report} onProblem={onProblem} />
        </Box>
        {(problem ?? fault) !== undefined && <ProblemText>{problem ?? fault}</ProblemText>}
        <ScrollBox sx={{ flex: 1, minHeight: 0 }}>
          <Box sx={{ maxWidth: 640, mx: 'auto' }} aria-busy={pages === undefined}>
            {pages?.pages.map((page, index) => (
              <PageSheet key={index} page={page} number={index + 1} selected={selected} onSelect={setSelected} />
            ))}
          </Box>
        </ScrollBox>
      </PlaceLayout>
      <Suspense>
        {isTitling && (
          <TitleSheet
            outline={outline}
            onClose={() => setTitling(false)}
            onSave={(next) => {
              setTitling(false);
              void save(next);
            }}
          />
        )}
      </Suspense>
    </>
  );
}

interface LaidOut {
  pages: ReportPages | undefined;
  changes: Record<string, string[]>;
  fault: string | undefined;
}

/** The pages of a report as it is now, and what is not any more as it tells it. */
function usePages({ outline, revision, changedAt }: ReportEntry): LaidOut {
  const runs = useLibrary((state) => state.runs);
  const [laidOut, setLaidOut] = useState<LaidOut>({ pages: undefined, changes: {}, fault: undefined });
  useEffect(() => {
    let left = false;
    api.reportPages(outline.id).then(
      (pages) => {
        if (!left) setLaidOut((old) => ({ ...old, pages, fault: undefined }));
      },
      (error: unknown) => {
        if (!left) setLaidOut((old) => ({ ...old, fault: error instanceof Problem ? error.detail : String(error) }));
      },
    );
    return () => {
      left = true;
    };
  }, [outline.id, revision, changedAt]);
  useEffect(() => {
    let left = false;
    api.reportChanges(outline.id).then(
      (changes) => {
        if (!left) setLaidOut((old) => ({ ...old, changes }));
      },
      // The pages say what is wrong with the server.
      () => undefined,
    );
    return () => {
      left = true;
    };
  }, [outline.id, revision, runs]);
  return laidOut;
}
