import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import { constraintWords } from '#core/5-answers/sizing/explain.ts';
import { copiedDays } from '#core/5-answers/sizing/copied-day.ts';
import type { Project, Sizing, SizingPolicy } from '#core/5-answers/sizing/project.ts';
import { shoppingCsv, boughtOnce, type ShoppingLine } from '#core/5-answers/sizing/shopping.ts';
import { CONSTRAINTS } from '#core/5-answers/sizing/judge-build.ts';
import { STORE_WORDS } from '#core/5-answers/sizing/stores.ts';
import { formatNumber } from '#core/1-ground/units/format.ts';
import { moneyText } from '#core/1-ground/units/money.ts';
import { PutIntoReport } from '../../frame/PutIntoReport.tsx';
import { saveJson, saveText } from '../../kit/save-json.ts';
import { Fact, Heading } from '../../kit/words.tsx';
import type { SizingSearch } from '../../sizing/use-sizing.ts';
import type { Outlook, ShownBuild, StoreFound } from '../../sizing/sizing-worker.ts';
import { ink } from '../../theme/tokens.ts';
import type { ChosenBuilds } from './use-chosen-builds.ts';
import type { EditedSizing } from './use-edited-sizing.ts';
import { WhatIf } from './WhatIf.tsx';

interface BuildColumnProps {
  project: Project;
  edited: EditedSizing;
  search: SizingSearch;
  chosen: ChosenBuilds;
}

/** What is said of the chosen build, what it takes to buy it, why others fail, and what would change it. */
export function BuildColumn({ project, edited, search, chosen }: BuildColumnProps) {
  const { selected, store } = chosen;
  const { sizing } = edited;
  const currency = sizing?.currency ?? '';
  const isTogether = chosen.shown === 'together';
  // What several stores share is bought once, where all of them are looked at.
  const toBuy = boughtOnce(
    chosen.chosen
      .filter((one) => isTogether || one.store === store)
      .flatMap(({ store: of, build }) => (build ? [{ store: of.store, lines: build.shopping }] : [])),
  );
  return (
    <>
      {search.outlook && search.outlook.nearest.length > 0 && <NothingFits outlook={search.outlook} />}
      {selected && !isTogether && (
        <BuildWords build={selected} isPinned={chosen.isPinned} onPin={chosen.togglePinned} />
      )}
      {search.found?.share === 1 && sizing && chosen.chosen.length > 1 && (
        <TogetherFacts chosen={chosen} sizing={sizing} />
      )}
      {toBuy.map(({ store: of, lines }) => (
        <ToBuy
          key={of}
          title={isTogether ? `To buy: ${STORE_WORDS[of].toLowerCase()}` : 'To buy'}
          lines={lines}
          currency={currency}
        />
      ))}
      {search.outlook?.staged && (
        <BoughtInStages
          staged={search.outlook.staged}
          onCsv={(text) => saveText(project.plan.name, 'stages.csv', text, 'text/csv')}
        />
      )}
      {selected && store && sizing && !isTogether && (
        <PutIntoReport
          subject={`${store.store} ${selected.code}`}
          put={() => ({ kind: 'build', projectId: project.id, store: store.store, code: selected.code, sizing })}
        />
      )}
      {store && sizing && !isTogether && (
        <FailingList store={store} policy={sizing.policy} selected={selected?.code} onSelect={chosen.choose} />
      )}
      <WhatIf
        policy={edited.edited.plan.policy}
        moves={search.outlook?.moves ?? []}
        onMove={search.isSearching ? null : edited.takeOver}
        onPolicy={edited.changePolicy}
      />
      {sizing && search.found && (
        <Box sx={{ mt: 1.5, display: 'flex', gap: 1, flexWrap: 'wrap' }}>
          <Button variant="text" onClick={() => saveJson(project.plan.name, 'sizing', sizing)}>
            Export
          </Button>
          <Button
            variant="text"
            onClick={() => search.csv((text) => saveText(project.plan.name, 'builds.csv', text, 'text/csv'))}
          >
            Builds as CSV
          </Button>
          {toBuy.length > 0 && (
            <Button
              variant="text"
              onClick={() => saveText(project.plan.name, 'to-buy.csv', shoppingCsv(toBuy, currency), 'text/csv')}
            >
              To buy as CSV
            </Button>
          )}
        </Box>
      )}
    </>
  );
}

/** What came nearest and every reason against it, and what by itself would make something fit. */
function NothingFits({ outlook: { nearest, ways } }: { outlook: Outlook }) {
  return (
    <Box data-nothing-fits="" sx={{ mb: 2 }}>
      <Typography sx={{ fontWeight: 650, color: ink('breaks') }}>Nothing does all of it</Typography>
      {nearest.map((sentence) => (
        <Typography key={sentence} variant="body2" sx={{ mt: 0.75 }}>
          {sentence}
        </Typography>
      ))}
      {ways.length > 0 && <Heading>What by itself would make it fit</Heading>}
      {ways.map((way) => (
        <Typography key={way} variant="body2" sx={{ mt: 0.75 }} data-way="">
          {way}
        </Typography>
      ))}
    </Box>
  );
}

interface BoughtInStagesProps {
  staged: NonNullable<Outlook['staged']>;
  onCsv: (text: string) => void;
}

/** What is bought by which day, what it comes to, and what is taken for granted. */
function BoughtInStages({ staged, onCsv }: BoughtInStagesProps) {
  if (staged === 'none') {
    return (
      <Box data-staged="">
        <Heading>Bought in stages</Heading>
        <Typography variant="body2">Nothing can be bought in stages that does all of it.</Typography>
      </Box>
    );
  }
  const { lines, summary, csv } = staged;
  return (
    <Box data-staged="">
      <Heading>Bought in stages</Heading>
      {lines.map(({ when, text }) => (
        <Typography key={when} variant="body2" sx={{ mt: 0.75 }}>
          <b>{when}:</b> {text}
        </Typography>
      ))}
      <Typography variant="body2" sx={{ mt: 0.75 }}>
        {summary}
      </Typography>
      <Button variant="text" onClick={() => onCsv(csv)} sx={{ ml: -1 }}>
        Stages as CSV
      </Button>
    </Box>
  );
}

interface BuildWordsProps {
  build: ShownBuild;
  isPinned: boolean;
  onPin: () => void;
}

function BuildWords({ build: { explained }, isPinned, onPin }: BuildWordsProps) {
  return (
    <Box data-build="">
      <Typography sx={{ fontWeight: 650, overflowWrap: 'anywhere' }}>{explained.name}</Typography>
      {explained.sentences.map((sentence) => (
        <Typography key={sentence} variant="body2" sx={{ mt: 0.75 }}>
          {sentence}
        </Typography>
      ))}
      <Button variant="outlined" aria-pressed={isPinned} onClick={onPin} sx={{ mt: 1.25 }}>
        {isPinned ? 'Compared: remove' : 'Compare'}
      </Button>
    </Box>
  );
}

/** The chosen build of every store, what all of them cost, and how long a day takes from the working one to the others. */
function TogetherFacts({ chosen: { chosen }, sizing }: { chosen: ChosenBuilds; sizing: Sizing }) {
  const { currency, policy } = sizing;
  const known = chosen.flatMap(({ build }) => build ?? []);
  // What is shared stands in the lists of the builds themselves: the plan may be another already.
  const lists = boughtOnce(known.map(({ code, shopping }) => ({ store: code, lines: shopping })));
  const sum = lists.flatMap(({ lines }) => lines).reduce((all, line) => all + line.sum, 0);
  const saved = known.reduce((all, { explained }) => all + explained.cost, -sum);
  return (
    <Box data-together="">
      <Heading>All stores</Heading>
      {chosen.map(({ store, build }) => (
        <Fact key={store.store} name={STORE_WORDS[store.store]}>
          {build ? (
            <>
              {build.explained.drivesText}
              <br />
              <b>{formatNumber(build.explained.cost, 'full')}</b>
              {build.explained.constraint !== null && <span style={{ color: ink('breaks') }}>, ruled out</span>}
            </>
          ) : (
            'none does it'
          )}
        </Fact>
      ))}
      {saved > 0 && <Fact name="Shared, bought once">{`−${formatNumber(saved, 'full')}`}</Fact>}
      {known.length === chosen.length && (
        <Fact name="Together">
          <b>{moneyText(sum, currency)}</b>
        </Fact>
      )}
      {copiedDays(
        chosen.map(({ store, build }) => ({ store: store.store, build: build?.explained })),
        policy,
      ).map(({ sentence, isInTime }) => (
        <Typography
          key={sentence}
          variant="body2"
          sx={{ mt: 0.75, color: isInTime ? undefined : ink('breaks') }}
          data-copied-day=""
        >
          {sentence}
        </Typography>
      ))}
    </Box>
  );
}

interface ToBuyProps {
  title: string;
  lines: readonly ShoppingLine[];
  currency: string;
}

/** Everything that a build costs, line by line. */
function ToBuy({ title, lines, currency }: ToBuyProps) {
  return (
    <Box data-to-buy="">
      <Heading>{title}</Heading>
      {lines.map(({ what, count, there, price, sum }) => (
        <Fact key={what} name={there > 0 ? `${what}, ${there} there` : what}>
          {count > 1 && (
            <span style={{ color: ink('second') }}>
              {`${formatNumber(count - there, 'full')} × ${formatNumber(price, 'full')} = `}
            </span>
          )}
          {formatNumber(sum, 'full')}
        </Fact>
      ))}
      <Fact name="In all">
        <b>
          {moneyText(
            lines.reduce((all, { sum }) => all + sum, 0),
            currency,
          )}
        </b>
      </Fact>
    </Box>
  );
}

interface FailingListProps {
  store: StoreFound;
  policy: SizingPolicy;
  selected: string | undefined;
  onSelect: (code: string) => void;
}

function FailingList({ store, policy, selected, onSelect }: FailingListProps) {
  const { result, tempting } = store;
  const failing = CONSTRAINTS.filter((one) => result.ruledOut[one] > 0);
  if (failing.length === 0) return null;
  return (
    <>
      <Heading>Why others fail</Heading>
      {failing.map((constraint) => {
        const one = tempting.find((other) => other.constraint === constraint);
        return (
          <Fact key={constraint} name={formatNumber(result.ruledOut[constraint], 'full')}>
            {constraintWords(constraint, store, policy)}
            {one && (
              <Button
                variant="text"
                data-tempting={constraint}
                aria-pressed={selected === one.code}
                onClick={() => onSelect(one.code)}
                sx={{
                  fontSize: 12.5,
                  px: 0.5,
                  py: 0,
                  minHeight: 0,
                  minWidth: 0,
                  whiteSpace: 'normal',
                  textAlign: 'right',
                }}
              >
                {constraint === 'capacity' ? 'closest' : 'cheapest'}: {formatNumber(one.explained.cost, 'full')}
              </Button>
            )}
          </Fact>
        );
      })}
    </>
  );
}
