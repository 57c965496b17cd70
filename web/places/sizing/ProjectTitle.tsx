import Divider from '@mui/material/Divider';
import MenuItem from '@mui/material/MenuItem';
import { useRef, useState } from 'react';
import { useNavigate } from 'react-router';
import { parseSizing, type Project } from '#core/5-answers/sizing/project.ts';
import { FileInput } from '../../kit/FileInput.tsx';
import { MenuButton } from '../../kit/MenuButton.tsx';
import { notTaken, readDocument } from '../../kit/read-document.ts';
import { useLibrary } from '../../state/library.ts';
import { adoptSizing, copyProject, createProject, removeProject, type Kept } from '../../state/project-edits.ts';
import { PlaceTitle } from '../../kit/Tip.tsx';
import { ink } from '../../theme/tokens.ts';

interface ProjectTitleProps {
  project: Project;
  onProblem: (sentence: string | undefined) => void;
}

/** The project's name, and under it the others and what can be done with this one. */
export function ProjectTitle({ project, onProblem }: ProjectTitleProps) {
  const projects = useLibrary((state) => state.projects);
  const navigate = useNavigate();
  const [isAsked, setAsked] = useState(false);
  const file = useRef<HTMLInputElement>(null);
  const open = (id: string, more = '') => void navigate(`/sizing/${encodeURIComponent(id)}${more}`);
  const attempt = async (doing: Promise<Kept>, then: (id: string) => void) => {
    const { id, problem } = await doing;
    onProblem(problem);
    if (id !== undefined) then(id);
  };
  const read = async (chosen: File) => {
    try {
      await attempt(adoptSizing(parseSizing(await readDocument(chosen))), (id) => open(id));
    } catch (error) {
      onProblem(notTaken(chosen, error));
    }
  };
  return (
    <>
      <MenuButton
        help="Projects, and what can be done with this one"
        onClose={() => setAsked(false)}
        items={(close) => [
          ...projects.map(({ id, plan, example }) => (
            <MenuItem
              key={id}
              selected={id === project.id}
              onClick={() => {
                close();
                open(id);
              }}
            >
              {plan.name}
              {example && <span style={{ color: ink('second'), marginLeft: 10, fontSize: 12.5 }}>example</span>}
            </MenuItem>
          )),
          <Divider key="line" />,
          <MenuItem
            key="new"
            // Its plan is typed at once.
            onClick={() => {
              close();
              void attempt(createProject(), (id) => open(id, '?plan=open'));
            }}
          >
            New project
          </MenuItem>,
          <MenuItem
            key="copy"
            onClick={() => {
              close();
              void attempt(copyProject(project), (id) => open(id));
            }}
          >
            Copy this one
          </MenuItem>,
          <MenuItem
            key="import"
            onClick={() => {
              close();
              file.current?.click();
            }}
          >
            Import a sizing
          </MenuItem>,
          <MenuItem
            key="delete"
            disabled={!projects.some(({ id }) => id === project.id)}
            onClick={() => {
              if (!isAsked) setAsked(true);
              else {
                close();
                void attempt(removeProject(project), () => void navigate('/sizing'));
              }
            }}
            sx={isAsked ? { color: ink('breaks') } : {}}
          >
            {isAsked ? 'Delete this one for good' : 'Delete this one'}
          </MenuItem>,
        ]}
      >
        <PlaceTitle name={project.plan.name} />
        {project.example && <span style={{ color: ink('second'), fontSize: 13 }}>example</span>}
      </MenuButton>
      <FileInput label="Sizing file" input={file} onFile={(chosen) => void read(chosen)} />
    </>
  );
}
