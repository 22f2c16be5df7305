import {
  autocompletion,
  closeBrackets,
  closeBracketsKeymap,
  type Completion,
  type CompletionContext,
} from "@codemirror/autocomplete";
import { defaultKeymap, history, historyKeymap } from "@codemirror/commands";
import { css } from "@codemirror/lang-css";
import { bracketMatching, HighlightStyle, syntaxHighlighting } from "@codemirror/language";
import { type Diagnostic, lintGutter, setDiagnostics } from "@codemirror/lint";
import { EditorState } from "@codemirror/state";
import { EditorView, keymap, lineNumbers } from "@codemirror/view";
import { tags } from "@lezer/highlight";
import { onBeforeUnmount, onMounted, type Ref } from "vue";

export interface Problem {
  line: number;
  message: string;
  stops: boolean;
}

/** Without colours of its own: the owner's are the only ones on screen. */
const LOOK = EditorView.theme({
  "&": { height: "100%", fontSize: "13px", backgroundColor: "var(--raised)" },
  ".cm-scroller": { fontFamily: "ui-monospace, monospace", lineHeight: "1.5" },
  ".cm-gutters": { backgroundColor: "var(--panel)", color: "var(--ink-soft)", borderRight: "1px solid var(--rule)" },
  ".cm-lint-marker": { content: '"●"', color: "var(--ink)" },
  ".cm-lintRange": { backgroundImage: "none", textDecoration: "underline wavy 1px var(--ink)" },
  ".cm-tooltip.cm-tooltip-autocomplete > ul > li[aria-selected]": {
    backgroundColor: "var(--ink)",
    color: "var(--paper)",
  },
  ".cm-diagnostic": { borderLeft: "3px solid var(--ink)" },
  "&.cm-focused .cm-matchingBracket": { backgroundColor: "var(--bench)", outline: "1px solid var(--ink)" },
  "&.cm-focused": { outline: "2px solid var(--ink)", outlineOffset: "-2px" },
});
const INK = HighlightStyle.define([
  { tag: tags.comment, fontStyle: "italic", color: "var(--ink-soft)" },
  { tag: [tags.propertyName, tags.keyword], fontWeight: "600" },
]);

/** An editor for CSS in an element: what is typed is told, problems are shown at their lines, roles are completed. */
export function useCssEditor(
  host: Readonly<Ref<HTMLElement | null>>,
  start: string,
  roles: Ref<Completion[]>,
  typed: (css: string) => void,
) {
  let view: EditorView | undefined;

  function complete(context: CompletionContext) {
    const word = context.matchBefore(/(?:var\()?--[-\w]*/);
    if (!word) return null;
    const isCall = word.text.startsWith("var(");
    const close = context.state.sliceDoc(context.pos, context.pos + 1) === ")" ? "" : ")";
    const options = roles.value.map((role) =>
      isCall ? { ...role, label: `var(${role.label}`, apply: `var(${role.label}${close}` } : role,
    );
    return { from: word.from, options };
  }

  onMounted(() => {
    const state = EditorState.create({
      doc: start,
      extensions: [
        lineNumbers(),
        history(),
        bracketMatching(),
        closeBrackets(),
        css(),
        syntaxHighlighting(INK),
        autocompletion(),
        EditorState.languageData.of(() => [{ autocomplete: complete }]),
        lintGutter(),
        LOOK,
        EditorView.contentAttributes.of({ "aria-label": "Your own CSS" }),
        EditorView.lineWrapping,
        keymap.of([...closeBracketsKeymap, ...defaultKeymap, ...historyKeymap]),
        EditorView.updateListener.of((update) => update.docChanged && typed(update.state.doc.toString())),
      ],
    });
    view = new EditorView({ state, parent: host.value! });
  });
  onBeforeUnmount(() => view?.destroy());

  function mark(problems: Problem[]): void {
    if (!view) return;
    const document = view.state.doc;
    const found = problems.map((one): Diagnostic => {
      const line = document.line(Math.max(1, Math.min(document.lines, one.line)));
      return { from: line.from, to: line.to, severity: one.stops ? "error" : "warning", message: one.message };
    });
    view.dispatch(setDiagnostics(view.state, found));
  }

  function replace(css: string): void {
    view?.dispatch({ changes: { from: 0, to: view.state.doc.length, insert: css } });
  }

  return { mark, replace };
}
