import { Box, Button, Stack, useTheme, type Theme } from '@mui/material';
import {
  memo,
  useEffect,
  useMemo,
  useRef,
  useState,
  type KeyboardEvent,
  type PointerEvent,
} from 'react';
import { NODE_HEIGHT, NODE_WIDTH } from '../streams/layout';
import type { Act, Editing } from './editing';
import { KINDS } from './model';
import { kindOf, line, nearest, within, type Arrow, type Spot } from './placing';

interface View {
  x: number;
  y: number;
  scale: number;
}

/** What the pointer does: moves the picture, frames, moves what is chosen, or draws an arrow. */
type Drag =
  | { kind: 'pan'; x: number; y: number; still: boolean }
  | { kind: 'frame'; from: Spot; to: Spot }
  | { kind: 'move'; from: Spot; by: Spot }
  | { kind: 'join'; from: string; to: Spot };

interface CanvasProps {
  state: Editing;
  act: (what: Act) => void;
  /** Opens the form of what is chosen. */
  onOpen: () => void;
  /** What is looked for, with * for any letters; what has it stands out. */
  wanted: string;
  /** Draws the eye to a shape: set anew, the picture goes there. */
  goTo: string;
  height: number;
}

const STEP = 20;

/** Below this scale letters cannot be read. */
const READABLE = 0.55;

/** Whether a name or title has what is looked for; `*` stands for any letters. */
export function isLike(wanted: string, ...texts: string[]): boolean {
  if (wanted.trim() === '') {
    return false;
  }
  const parts = wanted.toLowerCase().split('*');
  const pattern = parts.map((one) => one.replace(/[.+?^${}()|[\]\\]/g, '\\$&')).join('.*');
  return texts.some((text) => new RegExp(pattern).test(text.toLowerCase()));
}

function bounds(spots: ReadonlyMap<string, Spot>) {
  const all = [...spots.values()];
  const left = Math.min(0, ...all.map((one) => one.x)) - 16;
  const top = Math.min(0, ...all.map((one) => one.y)) - 16;
  return {
    left,
    top,
    width: Math.max(300, ...all.map((one) => one.x + NODE_WIDTH)) + 16 - left,
    height: Math.max(120, ...all.map((one) => one.y + NODE_HEIGHT)) + 16 - top,
  };
}

/** A stream that can be drawn in, by mouse and keyboard; what is said beside it leaves it alone. */
export const Canvas = memo(function Canvas(props: CanvasProps) {
  const { state, act, onOpen, wanted, goTo, height } = props;
  const theme = useTheme();
  const box = useRef<HTMLDivElement>(null);
  const [width, setWidth] = useState(700);
  const [moved, setMoved] = useState<View | null>(null);
  const [drag, setDrag] = useState<Drag | null>(null);
  const [at, setAt] = useState('');
  const [joining, setJoining] = useState('');
  useEffect(() => {
    const measure = () => setWidth(box.current?.clientWidth ?? 700);
    measure();
    const observer = new ResizeObserver(measure);
    if (box.current) {
      observer.observe(box.current);
    }
    return () => observer.disconnect();
  }, []);
  const all = bounds(state.spots);
  const atScale = (scale: number): View => ({ scale, x: -all.left * scale, y: -all.top * scale });
  const fit = atScale(Math.max(0.08, Math.min(1, width / all.width, height / all.height)));
  // Where letters could not be read, it opens at its beginning.
  const view = moved ?? (fit.scale < READABLE ? atScale(0.75) : fit);
  const jobs = useMemo(
    () => new Map(state.seen.jobs.map((one) => [one.name, one])),
    [state.seen.jobs],
  );
  const only = state.chosen.length === 1 ? state.chosen[0] : undefined;
  const current = !joining && only ? only : state.spots.has(at) ? at : (state.ids[0] ?? '');
  useEffect(() => {
    if (box.current?.contains(document.activeElement)) {
      box.current.querySelector<SVGElement>(`[data-shape="${CSS.escape(current)}"]`)?.focus();
    }
  }, [current]);
  const [gone, setGone] = useState('');
  if (goTo !== gone) {
    setGone(goTo);
    const spot = state.spots.get(goTo.replace(/ \d+$/, ''));
    if (spot) {
      setAt(goTo.replace(/ \d+$/, ''));
      setMoved(seen(view, spot, width, height, true));
    }
  }
  const [lookedAt, setLookedAt] = useState('');
  if (current !== lookedAt) {
    setLookedAt(current);
    const spot = state.spots.get(current);
    if (spot && moved) {
      setMoved(seen(moved, spot, width, height, false));
    }
  }
  const zoom = (by: number, point = { x: width / 2, y: height / 2 }) => {
    const scale = Math.min(2.5, Math.max(0.08, view.scale * by));
    const ratio = scale / view.scale;
    setMoved({
      scale,
      x: point.x - (point.x - view.x) * ratio,
      y: point.y - (point.y - view.y) * ratio,
    });
  };
  const spotOf = (e: PointerEvent): Spot => {
    const frame = box.current?.getBoundingClientRect();
    return {
      x: (e.clientX - (frame?.left ?? 0) - view.x) / view.scale,
      y: (e.clientY - (frame?.top ?? 0) - view.y) / view.scale,
    };
  };
  const shapeAt = (spot: Spot) => within(state.spots, { ...spot, width: 1, height: 1 })[0];
  const focus = (id: string) => {
    setAt(id);
    const spot = state.spots.get(id);
    if (spot) {
      setMoved((was) => seen(was ?? view, spot, width, height, false));
    }
    if (!joining) {
      act({ do: 'choose', ids: [id] });
    }
  };
  const down = (e: PointerEvent) => {
    if (e.button !== 0) {
      return;
    }
    box.current?.setPointerCapture(e.pointerId);
    const spot = spotOf(e);
    const hit = (name: string) =>
      (e.target as Element).closest(`[${name}]`)?.getAttribute(name) ?? undefined;
    const join = hit('data-join');
    const id = hit('data-shape');
    const arrow = hit('data-arrow');
    if (join !== undefined) {
      setDrag({ kind: 'join', from: join, to: spot });
    } else if (id !== undefined) {
      setAt(id);
      const more = e.shiftKey || e.ctrlKey || e.metaKey;
      if (more || !state.chosen.includes(id)) {
        act({ do: 'choose', ids: [id], more });
      }
      setDrag({ kind: 'move', from: spot, by: { x: 0, y: 0 } });
    } else if (arrow !== undefined) {
      const [nth = '0', to = ''] = arrow.split(' ');
      act({ do: 'chooseArrow', to, nth: Number(nth) });
    } else if (e.shiftKey) {
      setDrag({ kind: 'frame', from: spot, to: spot });
    } else {
      setDrag({ kind: 'pan', x: e.clientX - view.x, y: e.clientY - view.y, still: true });
    }
  };
  const move = (e: PointerEvent) => {
    if (!drag) {
      return;
    }
    const spot = spotOf(e);
    if (drag.kind === 'pan') {
      setMoved({ ...view, x: e.clientX - drag.x, y: e.clientY - drag.y });
      setDrag({ ...drag, still: false });
    } else if (drag.kind === 'move') {
      setDrag({ ...drag, by: { x: spot.x - drag.from.x, y: spot.y - drag.from.y } });
    } else {
      setDrag({ ...drag, to: spot });
    }
  };
  const up = (e: PointerEvent) => {
    if (!drag) {
      return;
    }
    setDrag(null);
    if (drag.kind === 'move' && Math.hypot(drag.by.x, drag.by.y) > 3) {
      act({ do: 'move', by: drag.by });
    } else if (drag.kind === 'frame') {
      act({ do: 'choose', ids: within(state.spots, frameOf(drag.from, drag.to)) });
    } else if (drag.kind === 'join') {
      const to = shapeAt(spotOf(e));
      act(
        to
          ? { do: 'join', from: drag.from, to }
          : { do: 'say', text: 'let the arrow go on the job that is to wait' },
      );
    } else if (drag.kind === 'pan' && drag.still) {
      act({ do: 'choose', ids: [] });
    }
  };
  const key = (e: KeyboardEvent) => {
    const command = e.ctrlKey || e.metaKey;
    const arrows: Record<string, [number, number]> = {
      ArrowLeft: [-1, 0],
      ArrowRight: [1, 0],
      ArrowUp: [0, -1],
      ArrowDown: [0, 1],
    };
    const way = arrows[e.key];
    const one = e.key.length === 1 ? e.key.toLowerCase() : e.key;
    const commands: Record<string, () => void> = {
      z: () => act({ do: e.shiftKey ? 'redo' : 'undo' }),
      y: () => act({ do: 'redo' }),
      a: () => act({ do: 'all' }),
      c: () => act({ do: 'copy' }),
      v: () => act({ do: 'paste', text: '' }),
      d: () => act({ do: 'duplicate' }),
    };
    const plain: Record<string, () => void> = {
      Enter: () => {
        if (joining) {
          act({ do: 'join', from: joining, to: current });
          setJoining('');
        } else {
          act({ do: 'choose', ids: [current] });
          onOpen();
        }
      },
      ' ': () => act({ do: 'choose', ids: [current], more: true }),
      Escape: () => {
        setJoining('');
        act({ do: 'choose', ids: [] });
      },
      Delete: () => {
        if (state.chosen.length === 0 && !state.arrow && current) {
          act({ do: 'choose', ids: [current] });
        }
        act({ do: 'delete' });
      },
      Backspace: () => act({ do: 'delete' }),
      c: () => {
        setAt(current);
        setJoining(current);
      },
      n: () => act({ do: 'add', kind: 'run', after: '' }),
      a: () =>
        act({
          do: 'add',
          kind: 'run',
          after: kindOf(state.seen, current) === 'job' ? current : '',
        }),
      f: () => setMoved(fit),
      '+': () => zoom(1.25),
      '-': () => zoom(0.8),
    };
    if (way && e.altKey) {
      if (!state.chosen.includes(current)) {
        act({ do: 'choose', ids: [current] });
      }
      act({ do: 'move', by: { x: way[0] * STEP, y: way[1] * STEP } });
    } else if (way) {
      focus(nearest(state.spots, current, way[0], way[1]));
    } else if (command && commands[one]) {
      commands[one]();
    } else if (!command && !e.altKey && plain[one]) {
      plain[one]();
    } else {
      return;
    }
    e.preventDefault();
    e.stopPropagation();
  };
  const shift = (id: string): Spot =>
    drag?.kind === 'move' && state.chosen.includes(id) ? drag.by : { x: 0, y: 0 };
  const where = (id: string): Spot => {
    const spot = state.spots.get(id) ?? { x: 0, y: 0 };
    const by = shift(id);
    return { x: spot.x + by.x, y: spot.y + by.y };
  };
  const frame = drag?.kind === 'frame' ? frameOf(drag.from, drag.to) : null;
  return (
    <Box
      ref={box}
      role="group"
      aria-label="Picture"
      tabIndex={state.ids.length === 0 ? 0 : -1}
      onPointerDown={down}
      onDoubleClick={(e) => (e.target as Element).closest('[data-shape]') && onOpen()}
      onFocus={(e) => setAt((was) => e.target.getAttribute('data-shape') ?? was)}
      onPointerMove={move}
      onPointerUp={up}
      onKeyDown={key}
      onWheel={(e) => {
        const here = e.currentTarget.getBoundingClientRect();
        zoom(e.deltaY < 0 ? 1.1 : 0.9, { x: e.clientX - here.left, y: e.clientY - here.top });
      }}
      sx={{
        height,
        position: 'relative',
        overflow: 'hidden',
        touchAction: 'none',
        cursor: drag?.kind === 'pan' ? 'grabbing' : 'default',
        backgroundImage: `radial-gradient(${theme.palette.divider} 1px, transparent 1px)`,
        backgroundSize: '22px 22px',
      }}
    >
      <svg
        width={width}
        height={height}
        role="group"
        aria-label={`Jobs of ${state.stream.path}`}
        style={{ pointerEvents: 'none', display: 'block' }}
      >
        <defs>
          <marker
            id="drawn-tip"
            viewBox="0 0 8 8"
            refX="7"
            refY="4"
            markerWidth="10"
            markerHeight="10"
            markerUnits="userSpaceOnUse"
            orient="auto"
          >
            <path d="M0 0 L8 4 L0 8 z" fill={theme.palette.text.secondary} />
          </marker>
        </defs>
        <g transform={`translate(${view.x} ${view.y}) scale(${view.scale})`}>
          {state.arrows.map(({ from, to, nth, label, alternative }) => {
            const a = where(from);
            const b = where(to);
            return (
              <Line
                key={`${to} ${nth}`}
                from={from}
                to={to}
                nth={nth}
                label={label}
                alternative={alternative}
                ax={a.x}
                ay={a.y}
                bx={b.x}
                by={b.y}
                chosen={state.arrow?.to === to && state.arrow.nth === nth}
                theme={theme}
              />
            );
          })}
          {state.ids.map((id) => {
            const job = jobs.get(id);
            const spot = where(id);
            return (
              <Shape
                key={id}
                id={id}
                kind={job ? 'job' : kindOf(state.seen, id)}
                does={job?.kind ?? ''}
                title={job?.title ?? ''}
                unread={Boolean(job?.unread)}
                inherited={job?.inherited ?? false}
                x={spot.x}
                y={spot.y}
                theme={theme}
                chosen={state.chosen.includes(id)}
                tabbed={id === current}
                joining={joining === id}
                found={isLike(wanted, id, job?.title ?? id)}
              />
            );
          })}
          {drag?.kind === 'join' && (
            <path
              d={line(where(drag.from), { x: drag.to.x, y: drag.to.y - NODE_HEIGHT / 2 }).path}
              fill="none"
              stroke={theme.palette.secondary.main}
              strokeWidth={2}
              markerEnd="url(#drawn-tip)"
            />
          )}
          {frame && (
            <rect
              {...frame}
              fill={theme.palette.secondary.main}
              fillOpacity={0.12}
              stroke={theme.palette.secondary.main}
            />
          )}
        </g>
      </svg>
      <Stack
        direction="row"
        onPointerDown={(e) => e.stopPropagation()}
        onKeyDown={(e) => e.stopPropagation()}
        sx={{
          position: 'absolute',
          right: 8,
          bottom: 8,
          bgcolor: 'background.paper',
          borderRadius: 4,
        }}
      >
        <Button size="small" aria-label="Further" onClick={() => zoom(0.8)}>
          −
        </Button>
        <Button size="small" aria-label="Closer" onClick={() => zoom(1.25)}>
          +
        </Button>
        <Button size="small" onClick={() => setMoved(fit)}>
          All of it
        </Button>
      </Stack>
      {joining && (
        <Box
          role="status"
          sx={{ position: 'relative', top: -30, px: 1.5, fontSize: '0.9rem', fontWeight: 600 }}
        >
          What is to wait for {joining}? Go there with the arrow keys, then Enter; Escape for none.
        </Box>
      )}
    </Box>
  );
});

/** The view on which a spot is seen: as it is where it is seen already. */
function seen(view: View, spot: Spot, width: number, height: number, middle: boolean): View {
  const x = spot.x * view.scale + view.x;
  const y = spot.y * view.scale + view.y;
  const right = x + NODE_WIDTH * view.scale;
  const bottom = y + NODE_HEIGHT * view.scale;
  if (!middle && x >= 0 && y >= 0 && right <= width && bottom <= height) {
    return view;
  }
  const scale = Math.max(view.scale, 0.7);
  return {
    scale,
    x: width / 2 - (spot.x + NODE_WIDTH / 2) * scale,
    y: height / 2 - (spot.y + NODE_HEIGHT / 2) * scale,
  };
}

function frameOf(from: Spot, to: Spot) {
  return {
    x: Math.min(from.x, to.x),
    y: Math.min(from.y, to.y),
    width: Math.abs(to.x - from.x),
    height: Math.abs(to.y - from.y),
  };
}

function cut(text: string, most: number): string {
  return text.length > most ? `${text.slice(0, most - 1)}…` : text;
}

interface LineProps extends Arrow {
  ax: number;
  ay: number;
  bx: number;
  by: number;
  chosen: boolean;
  theme: Theme;
}

const Line = memo(function Line(arrow: LineProps) {
  const { chosen, theme } = arrow;
  const { path, middle } = line({ x: arrow.ax, y: arrow.ay }, { x: arrow.bx, y: arrow.by });
  const words = arrow.label || 'succeeded';
  return (
    <g data-arrow={`${arrow.nth} ${arrow.to}`} style={{ pointerEvents: 'auto', cursor: 'pointer' }}>
      <title>{`${arrow.to} waits for ${arrow.from} ${words}`}</title>
      <path d={path} fill="none" stroke="transparent" strokeWidth={14} />
      <path
        d={path}
        fill="none"
        stroke={chosen ? theme.palette.secondary.main : theme.palette.text.secondary}
        strokeWidth={chosen ? 3 : 1.6}
        strokeDasharray={arrow.alternative ? '5 4' : undefined}
        opacity={chosen ? 1 : 0.75}
        markerEnd="url(#drawn-tip)"
      />
      {arrow.label && (
        <text
          x={middle.x}
          y={middle.y}
          dy={-4}
          textAnchor="middle"
          fontSize={11}
          fill={theme.palette.text.primary}
          stroke={theme.palette.background.paper}
          strokeWidth={4}
          paintOrder="stroke"
        >
          {cut(arrow.alternative ? `or ${arrow.label}` : arrow.label, 34)}
        </text>
      )}
    </g>
  );
});

interface ShapeProps {
  id: string;
  kind: 'job' | 'file' | 'other';
  /** The key that says what a job does. */
  does: string;
  title: string;
  unread: boolean;
  /** Whether only a template has it. */
  inherited: boolean;
  x: number;
  y: number;
  theme: Theme;
  chosen: boolean;
  tabbed: boolean;
  joining: boolean;
  found: boolean;
}

/** Whatever is done to it is heard by the picture as a whole: 300 of these must stay as they are. */
const Shape = memo(function Shape(props: ShapeProps) {
  const { id, kind, does, unread, inherited, theme, chosen, tabbed, joining, found } = props;
  const colours = theme.states.planned;
  const own = kind === 'job';
  const what = own
    ? (KINDS[does]?.name ?? 'does nothing yet')
    : kind === 'file'
      ? 'file'
      : 'of another stream';
  const name = id.replace(/^file /, '');
  const last = name.slice(name.lastIndexOf('/') + 1);
  const title = own && props.title !== id ? props.title : last;
  const whose = kind === 'other' ? `of ${name.slice(0, Math.max(0, name.lastIndexOf('/')))}` : '';
  const strong = chosen || joining;
  return (
    <g
      transform={`translate(${props.x} ${props.y})`}
      role="button"
      data-shape={id}
      tabIndex={tabbed ? 0 : -1}
      aria-label={`${title}, ${what}${inherited ? ', from the template' : ''}${unread ? ', its prerequisite cannot be read' : ''}`}
      aria-pressed={chosen}
      style={{ pointerEvents: 'auto', cursor: 'move', outlineOffset: 3 }}
    >
      <title>{`${title} (${name})`}</title>
      <rect
        width={NODE_WIDTH}
        height={NODE_HEIGHT}
        rx={does === 'approve' ? 26 : 9}
        fill={own ? colours.fill : theme.palette.background.paper}
        stroke={
          found
            ? '#c98a13'
            : strong
              ? theme.palette.secondary.main
              : own
                ? colours.edge
                : theme.palette.text.secondary
        }
        strokeWidth={found ? 4 : strong ? 3.5 : 1.6}
        strokeDasharray={own && !inherited ? undefined : inherited ? '2 3' : '4 4'}
        fillOpacity={inherited ? 0.45 : 1}
      />
      {does === 'stream' && (
        <rect
          x={4}
          y={4}
          width={NODE_WIDTH - 8}
          height={NODE_HEIGHT - 8}
          rx={6}
          fill="none"
          stroke={colours.edge}
          style={{ pointerEvents: 'none' }}
        />
      )}
      <text
        x={12}
        y={22}
        fontSize={13}
        fontWeight={650}
        fill={own ? colours.text : theme.palette.text.primary}
      >
        {cut(title, 25)}
      </text>
      <text x={12} y={40} fontSize={11} fill={own ? colours.text : theme.palette.text.secondary}>
        {cut(whose.length > 3 ? whose : `${inherited ? 'of the template' : what} · ${name}`, 32)}
      </text>
      {unread && (
        <text x={NODE_WIDTH - 20} y={22} fontSize={15} fill={theme.palette.error.main}>
          !
        </text>
      )}
      <circle
        cx={NODE_WIDTH}
        cy={NODE_HEIGHT / 2}
        r={7}
        fill={theme.palette.background.paper}
        stroke={strong ? theme.palette.secondary.main : theme.palette.text.secondary}
        strokeWidth={1.5}
        data-join={id}
        style={{ cursor: 'crosshair' }}
      >
        <title>{`Draw from here to what is to wait for ${name}`}</title>
      </circle>
    </g>
  );
});
