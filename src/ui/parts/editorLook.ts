import { HighlightStyle, syntaxHighlighting } from '@codemirror/language';
import { tags } from '@lezer/highlight';
import { EditorView } from '@codemirror/view';

/** Code on the score's paper, in both themes: ink and weight before colour. */
export const editorLook = [
  EditorView.theme({
    '&': { height: '100%', background: 'var(--sheet)', color: 'var(--ink)', fontSize: '12.5px' },
    '&.cm-focused': { outline: 'none' },
    '.cm-scroller': { fontFamily: 'var(--font-mono)', lineHeight: '1.5' },
    '.cm-gutters': { background: 'var(--page)', color: 'var(--third)', border: 'none' },
    '.cm-activeLine, .cm-activeLineGutter': {
      background: 'color-mix(in srgb, var(--well) 50%, transparent)',
    },
    '.cm-content': { caretColor: 'var(--ink)' },
    '.cm-cursor': { borderLeftColor: 'var(--ink)' },
    '&.cm-focused .cm-selectionBackground, .cm-selectionBackground': {
      background: 'var(--limelight-wash) !important',
    },
    '.cm-tooltip': { background: 'var(--sheet)', border: '1px solid var(--rule)', color: 'var(--ink)' },
    '.cm-tooltip-autocomplete > ul > li[aria-selected]': { background: 'var(--well)', color: 'var(--ink)' },
    '.cm-diagnostic-error': { borderLeftColor: 'var(--oxblood)' },
  }),
  syntaxHighlighting(
    HighlightStyle.define([
      { tag: tags.comment, color: 'var(--third)', fontStyle: 'italic' },
      { tag: [tags.keyword, tags.definitionKeyword], fontWeight: '650' },
      { tag: [tags.string, tags.number, tags.bool], color: 'var(--limelight-ink)' },
      { tag: [tags.invalid], color: 'var(--oxblood)' },
    ]),
  ),
];
