import Box from '@mui/material/Box';
import type { ReactNode } from 'react';
import { useSize } from '../../kit/use-size.ts';
import { FONT_FAMILY } from '../../theme/theme.ts';
import { LABEL_SIZE } from '../kit/labels.ts';

interface PictureProps {
  /** What the picture shows, for those who cannot see it. */
  label: string;
  /** Height in pixels, for a width; left out, the picture takes as much as there is. */
  height?: (width: number) => number;
  /** Whether things in it can be chosen: it is no single image then. */
  isInteractive?: boolean;
  children: (width: number, height: number) => ReactNode;
}

/** Ground of every picture: an SVG as large as its place, drawn once the size is known. */
export function Picture({ label, height, isInteractive = false, children }: PictureProps) {
  const [attach, size] = useSize();
  const drawn = height ? height(size.width) : size.height;
  return (
    <Box
      ref={attach}
      data-picture=""
      sx={{
        position: 'relative',
        width: '100%',
        flex: height ? 'none' : '1 1 0',
        height: height ? drawn : undefined,
        minHeight: 0,
      }}
    >
      {size.width > 0 && drawn > 0 && (
        <svg
          role={isInteractive ? 'group' : 'img'}
          aria-label={label}
          width={size.width}
          height={drawn}
          className="drawn"
          style={{ position: 'absolute', inset: 0, fontFamily: FONT_FAMILY, fontSize: LABEL_SIZE, overflow: 'visible' }}
        >
          {children(size.width, drawn)}
        </svg>
      )}
    </Box>
  );
}
