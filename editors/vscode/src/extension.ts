import * as vscode from 'vscode';
import { LanguageClient, LanguageClientOptions, ServerOptions } from 'vscode-languageclient/node';
import { Cases } from './cases';
import { Profiles } from './profiles';
import { program } from './program';
import { ChangedRows } from './rows';

let client: LanguageClient | undefined;

export async function activate(context: vscode.ExtensionContext): Promise<void> {
  startLanguage(context);
  const remembered = new Remembered(context.workspaceState);
  context.subscriptions.push(
    vscode.debug.registerDebugAdapterDescriptorFactory('cantina', {
      createDebugAdapterDescriptor: session =>
        session.configuration.request === 'attach'
          ? new vscode.DebugAdapterServer(Number(session.configuration.port), '127.0.0.1')
          : new vscode.DebugAdapterExecutable(program(), ['serve', 'debug'], {
            cwd: folderOf(session.configuration.project, session.workspaceFolder),
          }),
    }),
    vscode.debug.registerDebugConfigurationProvider('cantina', new Launches()),
    vscode.commands.registerCommand('cantina.run', (project, routine, parameters) =>
      launch(remembered, project, routine, parameters, true)),
    vscode.commands.registerCommand('cantina.debug', (project, routine, parameters) =>
      launch(remembered, project, routine, parameters, false)),
    vscode.commands.registerCommand('cantina.debugCase', (project, name) =>
      start(project, { name, case: name }, false)),
  );
  const rows = new ChangedRows();
  const profiles = new Profiles();
  context.subscriptions.push(
    profiles,
    vscode.window.registerTreeDataProvider('cantina.rows', rows),
    vscode.debug.registerDebugAdapterTrackerFactory('cantina', {
      createDebugAdapterTracker: session => rows.follow(session),
    }),
    vscode.commands.registerCommand('cantina.profile', async (project, routine, parameters) => {
      const words = await asked(remembered, project, routine, parameters);
      if (words) {
        await profiles.show(project, routine, words);
      }
    }),
  );
  const cases = new Cases();
  context.subscriptions.push(
    cases,
    vscode.commands.registerCommand('cantina.test', (project, routine) => cases.run(project, routine)),
    vscode.commands.registerCommand('cantina.runCase', (project, name) => cases.run(project, name)),
  );
}

export async function deactivate(): Promise<void> {
  await client?.stop();
}

function startLanguage(context: vscode.ExtensionContext): void {
  const server: ServerOptions = { command: program(), args: ['serve', 'language'] };
  const options: LanguageClientOptions = {
    documentSelector: [
      { scheme: 'file', language: 'cantina-sql' },
      { scheme: 'file', language: 'sql' },
      { scheme: 'file', pattern: '**/cases/**/*.{yaml,yml}' },
      { scheme: 'file', pattern: '**/cantina.yaml' },
    ],
    synchronize: {
      fileEvents: [
        vscode.workspace.createFileSystemWatcher('**/*.sql'),
        vscode.workspace.createFileSystemWatcher('**/cases/**/*.{yaml,yml}'),
        vscode.workspace.createFileSystemWatcher('**/cantina.yaml'),
      ],
    },
  };
  client = new LanguageClient('cantina', 'Cantina', server, options);
  context.subscriptions.push({ dispose: () => void client?.stop() });
  client.start().catch(error => {
    void vscode.window.showErrorMessage(
      `Cantina can't be started (${program()}): ${error.message ?? error}. The setting cantina.command says where it is.`);
  });
}

function folderOf(project: string | undefined, workspace: vscode.WorkspaceFolder | undefined): string | undefined {
  return project ?? workspace?.uri.fsPath ?? vscode.workspace.workspaceFolders?.[0]?.uri.fsPath;
}

/** Fills in what a launch leaves out. */
class Launches implements vscode.DebugConfigurationProvider {
  async resolveDebugConfiguration(
    folder: vscode.WorkspaceFolder | undefined,
    launch: vscode.DebugConfiguration,
  ): Promise<vscode.DebugConfiguration | undefined> {
    if (!launch.type) {
      void vscode.window.showInformationMessage('Choose Debug above a routine or a case.');
      return undefined;
    }
    if (launch.request === 'attach') {
      // The program says which project it runs.
      return launch;
    }
    launch.project = launch.project ?? folderOf(undefined, folder);
    return launch;
  }
}

/** The arguments that a routine was called with last. */
class Remembered {
  constructor(private readonly state: vscode.Memento) {}

  get(project: string, routine: string): Record<string, string> {
    return this.state.get(`arguments ${project} ${routine}`, {});
  }

  put(project: string, routine: string, values: Record<string, string>): Thenable<void> {
    return this.state.update(`arguments ${project} ${routine}`, values);
  }
}

/** Asks for the arguments of a routine; undefined where the person thinks better of it. */
async function asked(
  remembered: Remembered,
  project: string,
  routine: string,
  parameters: string[],
): Promise<string[] | undefined> {
  const known = remembered.get(project, routine);
  const given: Record<string, string> = {};
  for (const parameter of parameters ?? []) {
    const [name, ...type] = parameter.split(' ');
    const value = await vscode.window.showInputBox({
      title: `${routine}: ${name}`,
      prompt: `${type.join(' ')}; leave it empty for the default, write NULL for NULL`,
      value: known[name] ?? '',
      ignoreFocusOut: true,
    });
    if (value === undefined) {
      return undefined;
    }
    if (value !== '') {
      given[name] = value;
    }
  }
  await remembered.put(project, routine, given);
  return Object.entries(given).map(([name, value]) => `${name}=${value}`);
}

/** Asks for the arguments, and calls the routine. */
async function launch(
  remembered: Remembered,
  project: string,
  routine: string,
  parameters: string[],
  plain: boolean,
): Promise<void> {
  const words = await asked(remembered, project, routine, parameters);
  if (words) {
    await start(project, { name: routine, routine, arguments: words }, plain);
  }
}

async function start(
  project: string,
  what: { name: string } & Record<string, unknown>,
  plain: boolean,
): Promise<void> {
  const folder = vscode.workspace.getWorkspaceFolder(vscode.Uri.file(project));
  await vscode.debug.startDebugging(
    folder,
    {
      type: 'cantina',
      request: 'launch',
      project,
      stopAtStart: !plain && vscode.debug.breakpoints.length === 0,
      ...what,
    },
    { noDebug: plain },
  );
}
