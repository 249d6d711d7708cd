import { autocompletion, completionKeymap, type CompletionContext } from '@codemirror/autocomplete';
import { defaultKeymap, indentWithTab } from '@codemirror/commands';
import { yaml } from '@codemirror/lang-yaml';
import {
  HighlightStyle,
  indentOnInput,
  indentUnit,
  syntaxHighlighting,
} from '@codemirror/language';
import { lintGutter, setDiagnostics, type Diagnostic } from '@codemirror/lint';
import { Annotation, Compartment, EditorState } from '@codemirror/state';
import {
  drawSelection,
  EditorView,
  highlightActiveLine,
  keymap,
  lineNumbers,
} from '@codemirror/view';
import { tags } from '@lezer/highlight';
import { Box, useTheme, type Theme } from '@mui/material';
import { useEffect, useRef } from 'react';
import type { Schemas } from '../../api/client';
import { mono } from '../../theme';
import { completions, type Names } from './completion';

/** Marks what another view has changed, so that it is not taken for typing. */
const fromOutside = Annotation.define<boolean>();

interface TextViewProps {
  text: string;
  onText: (text: string) => void;
  onUndo: () => void;
  onRedo: () => void;
  problems: Schemas['ProblemView'][];
  schema: unknown;
  names: Names;
  /** Set anew, the text goes to that character. */
  goTo: number;
  height: number;
}

function look(theme: Theme) {
  const { text, background, divider, secondary } = theme.palette;
  const dark = theme.palette.mode === 'dark';
  return [
    EditorView.theme(
      {
        '&': { backgroundColor: background.paper, color: text.primary, height: '100%' },
        '.cm-content': { fontFamily: mono, fontSize: '0.86rem', caretColor: text.primary },
        '.cm-gutters': {
          backgroundColor: background.paper,
          color: text.secondary,
          border: 'none',
          fontFamily: mono,
          fontSize: '0.8rem',
        },
        '.cm-activeLine, .cm-activeLineGutter': { backgroundColor: 'transparent' },
        '&.cm-focused .cm-activeLine': { boxShadow: `inset 3px 0 ${secondary.main}` },
        '&.cm-focused': { outline: 'none' },
        '.cm-cursor': { borderLeftColor: text.primary },
        '&.cm-focused .cm-selectionBackground, .cm-selectionBackground': {
          backgroundColor: dark ? '#2f5a75 !important' : '#d5e3ea !important',
        },
        '.cm-tooltip': {
          backgroundColor: background.paper,
          color: text.primary,
          border: `1px solid ${divider}`,
          maxWidth: '420px',
        },
        '.cm-tooltip-autocomplete > ul > li[aria-selected]': {
          backgroundColor: dark ? '#2f5a75' : '#22506e',
          color: '#fff',
        },
        '.cm-diagnostic': { fontFamily: theme.typography.fontFamily ?? 'inherit' },
      },
      { dark },
    ),
    syntaxHighlighting(
      HighlightStyle.define([
        { tag: tags.propertyName, color: dark ? '#8cc4dc' : '#22506e', fontWeight: '600' },
        {
          tag: tags.definition(tags.propertyName),
          color: dark ? '#8cc4dc' : '#22506e',
          fontWeight: '600',
        },
        { tag: tags.comment, color: dark ? '#a3b6c4' : '#56606a', fontStyle: 'italic' },
        { tag: tags.string, color: dark ? '#e6b655' : '#7a560c' },
      ]),
    ),
  ];
}

/** The definition as its text, with completion and what is wrong at its place. */
export function TextView(props: TextViewProps) {
  const theme = useTheme();
  const host = useRef<HTMLDivElement>(null);
  const view = useRef<EditorView | null>(null);
  const latest = useRef(props);
  const looks = useRef(new Compartment());
  useEffect(() => {
    latest.current = props;
  });
  useEffect(() => {
    const parent = host.current;
    if (!parent) {
      return undefined;
    }
    const made = new EditorView({
      parent,
      state: EditorState.create({
        doc: latest.current.text,
        extensions: [
          lineNumbers(),
          lintGutter(),
          drawSelection(),
          highlightActiveLine(),
          indentOnInput(),
          indentUnit.of('  '),
          yaml(),
          EditorView.contentAttributes.of({
            'aria-label': 'Text of the definition',
            tabindex: '0',
          }),
          autocompletion({
            override: [
              (context: CompletionContext) =>
                completions(
                  context.state.doc.toString(),
                  context.pos,
                  latest.current.schema,
                  latest.current.names,
                  context.explicit,
                ),
            ],
          }),
          keymap.of([
            { key: 'Mod-z', run: () => (latest.current.onUndo(), true) },
            { key: 'Mod-y', run: () => (latest.current.onRedo(), true) },
            { key: 'Mod-Shift-z', run: () => (latest.current.onRedo(), true) },
            ...completionKeymap,
            ...defaultKeymap,
            indentWithTab,
          ]),
          looks.current.of([]),
          EditorView.updateListener.of((update) => {
            if (
              update.docChanged &&
              !update.transactions.some((one) => one.annotation(fromOutside))
            ) {
              latest.current.onText(update.state.doc.toString());
            }
          }),
        ],
      }),
    });
    view.current = made;
    return () => made.destroy();
  }, []);
  useEffect(() => {
    view.current?.dispatch({ effects: looks.current.reconfigure(look(theme)) });
  }, [theme]);
  useEffect(() => {
    const now = view.current;
    if (now && now.state.doc.toString() !== props.text) {
      now.dispatch({
        changes: difference(now.state.doc.toString(), props.text),
        annotations: fromOutside.of(true),
      });
    }
  }, [props.text]);
  useEffect(() => {
    const now = view.current;
    if (now) {
      now.dispatch(setDiagnostics(now.state, diagnostics(now.state, props.problems)));
    }
  }, [props.problems, props.text]);
  useEffect(() => {
    const now = view.current;
    if (now && props.goTo >= 0 && props.goTo <= now.state.doc.length) {
      now.dispatch({
        selection: { anchor: props.goTo },
        effects: EditorView.scrollIntoView(props.goTo, { y: 'center' }),
      });
    }
  }, [props.goTo]);
  return <Box ref={host} sx={{ height: props.height, overflow: 'hidden' }} />;
}

/** The one stretch in which two texts differ. */
export function difference(from: string, to: string): { from: number; to: number; insert: string } {
  let start = 0;
  const least = Math.min(from.length, to.length);
  while (start < least && from[start] === to[start]) {
    start++;
  }
  let end = 0;
  while (end < least - start && from[from.length - 1 - end] === to[to.length - 1 - end]) {
    end++;
  }
  return { from: start, to: from.length - end, insert: to.slice(start, to.length - end) };
}

function diagnostics(state: EditorState, problems: Schemas['ProblemView'][]): Diagnostic[] {
  return problems
    .filter((one) => one.line >= 1 && one.line <= state.doc.lines)
    .map((one) => {
      const line = state.doc.line(one.line);
      const from = Math.min(line.to, line.from + Math.max(0, one.column - 1));
      const word = /^[^\s,{}[\]]+/.exec(state.doc.sliceString(from, line.to))?.[0] ?? '';
      return {
        from,
        to: Math.min(line.to, from + Math.max(1, word.length)),
        severity: one.severity === 'error' ? ('error' as const) : ('warning' as const),
        message: one.message,
      };
    });
}
