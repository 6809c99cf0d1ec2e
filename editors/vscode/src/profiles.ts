import * as path from 'node:path';
import * as vscode from 'vscode';
import { runProgram } from './program';

interface Line {
  file: string;
  line: number;
  runs: number;
  own_ms: number;
  rows_read: number;
  rows_written: number;
}

/** The figures of a profile beside the lines that they are of. */
export class Profiles implements vscode.Disposable {
  private readonly look = vscode.window.createTextEditorDecorationType({
    after: { color: new vscode.ThemeColor('editorCodeLens.foreground'), margin: '0 0 0 2em' },
    isWholeLine: true,
  });
  private readonly lines = new Map<string, vscode.DecorationOptions[]>();
  private readonly subscription = vscode.Disposable.from(
    vscode.window.onDidChangeVisibleTextEditors(() => this.paint()),
    // A line that is edited is not the one that was counted.
    vscode.workspace.onDidChangeTextDocument(change => {
      if (this.lines.delete(change.document.uri.fsPath)) {
        this.paint();
      }
    }));

  dispose(): void {
    this.subscription.dispose();
    this.look.dispose();
  }

  /** Calls a routine, counts it, and shows the figures. */
  async show(project: string, routine: string, words: string[]): Promise<void> {
    const { out, err } = await runProgram(project, ['profile', routine, ...words, '--json']);
    let counted: Line[];
    try {
      counted = JSON.parse(out).lines;
    } catch {
      void vscode.window.showErrorMessage(err.trim() || `${routine} could not be profiled`);
      return;
    }
    this.lines.clear();
    const most = Math.max(...counted.map(l => l.own_ms), 0.001);
    for (const line of counted) {
      const file = path.join(project, line.file);
      const runs = line.runs === 1 ? '1 run' : `${line.runs} runs`;
      const rows = [
        line.rows_read > 0 ? `${line.rows_read} read` : '',
        line.rows_written > 0 ? `${line.rows_written} written` : '',
      ].filter(t => t).join(', ');
      const bar = '▪'.repeat(Math.round((line.own_ms / most) * 8));
      const text = [runs, `${line.own_ms.toFixed(3)} ms`, rows, bar].filter(t => t).join('  ');
      const at = new vscode.Range(line.line - 1, 0, line.line - 1, 0);
      this.lines.set(file, [
        ...(this.lines.get(file) ?? []),
        { range: at, renderOptions: { after: { contentText: text } } },
      ]);
    }
    this.paint();
  }

  private paint(): void {
    for (const editor of vscode.window.visibleTextEditors) {
      editor.setDecorations(this.look, this.lines.get(editor.document.uri.fsPath) ?? []);
    }
  }
}
