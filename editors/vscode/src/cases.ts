import * as fs from 'node:fs/promises';
import * as os from 'node:os';
import * as path from 'node:path';
import * as vscode from 'vscode';
import { runProgram } from './program';

interface Listed {
  file: string;
  line: number;
  case: string;
  routine: string;
}

interface Difference {
  at: string;
  expected: unknown;
  actual: unknown;
  writer?: string;
}

interface Result {
  file: string;
  case: string;
  verdict: 'passed' | 'failed' | 'broken' | 'skipped';
  elapsed_ms: number;
  problem?: string;
  differences: Difference[];
}

/** The cases of all projects, in the editor's view of tests. */
export class Cases implements vscode.Disposable {
  private readonly controller = vscode.tests.createTestController('cantina', 'Cantina cases');
  private readonly watcher = vscode.workspace.createFileSystemWatcher('**/cases/**/*.{yaml,yml}');

  constructor() {
    this.controller.resolveHandler = item => (item ? Promise.resolve() : this.find());
    this.controller.refreshHandler = () => this.find();
    this.controller.createRunProfile('Run', vscode.TestRunProfileKind.Run, (request, token) =>
      this.execute(request, token), true);
    this.controller.createRunProfile('Debug', vscode.TestRunProfileKind.Debug, request =>
      this.debug(request));
    const coverage = this.controller.createRunProfile('Coverage', vscode.TestRunProfileKind.Coverage, (request, token) =>
      this.execute(request, token, true));
    coverage.loadDetailedCoverage = async (_run, file) => (file instanceof Covered ? file.lines : []);
    this.watcher.onDidChange(() => this.find());
    this.watcher.onDidCreate(() => this.find());
    this.watcher.onDidDelete(() => this.find());
  }

  dispose(): void {
    this.watcher.dispose();
    this.controller.dispose();
  }

  /** Runs the cases of a routine, or the case of a name, in the view of tests. */
  async run(project: string, selector: string): Promise<void> {
    if (!this.controller.items.get(project)) {
      await this.find();
    }
    const chosen: vscode.TestItem[] = [];
    this.each(item => {
      const fits = item.label === selector || item.tags.some(t => t.id === `routine ${selector.toLowerCase()}`);
      if (projectOf(item) === project && item.children.size === 0 && fits) {
        chosen.push(item);
      }
    });
    if (chosen.length === 0) {
      void vscode.window.showInformationMessage(`No case calls ${selector}.`);
      return;
    }
    await this.execute(new vscode.TestRunRequest(chosen), new vscode.CancellationTokenSource().token);
    await vscode.commands.executeCommand('workbench.view.testing.focus');
  }

  private each(visit: (item: vscode.TestItem) => void): void {
    const walk = (items: vscode.TestItemCollection) =>
      items.forEach(item => {
        visit(item);
        walk(item.children);
      });
    walk(this.controller.items);
  }

  private async find(): Promise<void> {
    const files = await vscode.workspace.findFiles('**/cantina.yaml', '**/node_modules/**', 20);
    const projects: vscode.TestItem[] = [];
    for (const file of files) {
      const folder = path.dirname(file.fsPath);
      const { code, out } = await runProgram(folder, ['test', '--list', '--json']);
      if (code !== 0) {
        continue;
      }
      const project = this.controller.createTestItem(folder, path.basename(folder));
      const byFile = new Map<string, vscode.TestItem>();
      for (const listed of (JSON.parse(out) as { cases: Listed[] }).cases) {
        const uri = vscode.Uri.file(path.join(folder, listed.file));
        let parent = byFile.get(listed.file);
        if (!parent) {
          parent = this.controller.createTestItem(`${folder}\n${listed.file}`, path.basename(listed.file), uri);
          byFile.set(listed.file, parent);
          project.children.add(parent);
        }
        const item = this.controller.createTestItem(`${folder}\n${listed.file}\n${listed.case}`, listed.case, uri);
        item.range = new vscode.Range(listed.line - 1, 0, listed.line - 1, 0);
        item.tags = [new vscode.TestTag(`routine ${listed.routine.toLowerCase()}`)];
        parent.children.add(item);
      }
      projects.push(project);
    }
    this.controller.items.replace(projects);
  }

  private async execute(
    request: vscode.TestRunRequest,
    token: vscode.CancellationToken,
    covers = false,
  ): Promise<void> {
    if (!request.include && this.controller.items.size === 0) {
      await this.find();
    }
    const run = this.controller.createTestRun(request);
    const byProject = new Map<string, vscode.TestItem[]>();
    for (const item of leaves(request, this.controller.items)) {
      run.enqueued(item);
      const project = projectOf(item);
      byProject.set(project, [...(byProject.get(project) ?? []), item]);
    }
    for (const [project, items] of byProject) {
      if (token.isCancellationRequested) {
        break;
      }
      items.forEach(item => run.started(item));
      const names = items.map(item => item.label);
      const folder = covers ? await fs.mkdtemp(path.join(os.tmpdir(), 'cantina-')) : undefined;
      const report = folder && path.join(folder, 'coverage.lcov');
      const reporting = report ? ['--coverage', '--report', `lcov=${report}`] : [];
      const { out, err } = await runProgram(project, ['test', '--json', ...reporting, ...names], token);
      if (folder && report) {
        for (const file of covered(await fs.readFile(report, 'utf8').catch(() => ''))) {
          run.addCoverage(file);
        }
        await fs.rm(folder, { recursive: true, force: true });
      }
      run.appendOutput((err || `${items.length} cases of ${path.basename(project)}\n`).replace(/\r?\n/g, '\r\n'));
      this.show(run, project, items, out, err);
    }
    run.end();
  }

  private show(run: vscode.TestRun, project: string, items: vscode.TestItem[], out: string, err: string): void {
    let results: Result[];
    try {
      results = (JSON.parse(out) as { cases: Result[] }).cases;
    } catch {
      items.forEach(item => run.errored(item, new vscode.TestMessage(err || 'the cases could not be run')));
      return;
    }
    for (const item of items) {
      const result = results.find(r => item.id === `${project}\n${r.file}\n${r.case}`);
      if (!result) {
        run.skipped(item);
      } else if (result.verdict === 'passed') {
        run.passed(item, result.elapsed_ms);
      } else if (result.verdict === 'skipped') {
        run.skipped(item);
      } else if (result.differences.length > 0) {
        run.failed(item, result.differences.map(d => message(project, item, d)), result.elapsed_ms);
      } else {
        run.errored(item, new vscode.TestMessage(result.problem ?? 'it could not be run'), result.elapsed_ms);
      }
    }
  }

  private async debug(request: vscode.TestRunRequest): Promise<void> {
    const item = leaves(request, this.controller.items)[0];
    if (item) {
      await vscode.commands.executeCommand('cantina.debugCase', projectOf(item), item.label);
    }
  }
}

/** A difference, at the line of the statement that wrote what is not as expected. */
function message(project: string, item: vscode.TestItem, difference: Difference): vscode.TestMessage {
  const text = (value: unknown) => (typeof value === 'string' ? value : JSON.stringify(value));
  const shown = vscode.TestMessage.diff(difference.at, text(difference.expected), text(difference.actual));
  const place = /^(.*):(\d+):(\d+)$/.exec(difference.writer ?? '');
  shown.location = place
    ? new vscode.Location(
        vscode.Uri.file(path.join(project, place[1])),
        new vscode.Position(Number(place[2]) - 1, Number(place[3]) - 1))
    : item.uri && new vscode.Location(item.uri, item.range ?? new vscode.Range(0, 0, 0, 0));
  return shown;
}

function projectOf(item: vscode.TestItem): string {
  return item.id.split('\n')[0];
}

function leaves(request: vscode.TestRunRequest, all: vscode.TestItemCollection): vscode.TestItem[] {
  const found: vscode.TestItem[] = [];
  const walk = (item: vscode.TestItem) => {
    if (request.exclude?.includes(item)) {
      return;
    }
    if (item.children.size === 0 && item.id.split('\n').length === 3) {
      found.push(item);
    }
    item.children.forEach(walk);
  };
  if (request.include) {
    request.include.forEach(walk);
  } else {
    all.forEach(walk);
  }
  return found;
}

/** What was reached of a file. */
class Covered extends vscode.FileCoverage {
  constructor(file: string, readonly lines: vscode.StatementCoverage[]) {
    super(
      vscode.Uri.file(file),
      new vscode.TestCoverageCount(lines.filter(l => Number(l.executed) > 0).length, lines.length));
  }
}

/** The files of an LCOV report. */
function covered(report: string): Covered[] {
  const files: Covered[] = [];
  let file = '';
  let lines: vscode.StatementCoverage[] = [];
  for (const text of report.split('\n')) {
    const line = /^DA:(\d+),(\d+)/.exec(text);
    if (text.startsWith('SF:')) {
      file = text.substring(3);
      lines = [];
    } else if (line) {
      lines.push(new vscode.StatementCoverage(Number(line[2]), new vscode.Position(Number(line[1]) - 1, 0)));
    } else if (text === 'end_of_record' && lines.length > 0) {
      files.push(new Covered(file, lines));
    }
  }
  return files;
}
