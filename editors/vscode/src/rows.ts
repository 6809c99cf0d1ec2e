import * as vscode from 'vscode';

interface Shown {
  name: string;
  value: string;
  variablesReference: number;
}

/** The rows that a run has changed, before and after, while it stands. */
export class ChangedRows implements vscode.TreeDataProvider<Shown> {
  private readonly changed = new vscode.EventEmitter<void>();
  readonly onDidChangeTreeData = this.changed.event;
  private session: vscode.DebugSession | undefined;

  /** Follows a debugging. */
  follow(session: vscode.DebugSession): vscode.DebugAdapterTracker {
    return {
      onDidSendMessage: message => {
        if (message.type === 'event' && message.event === 'stopped') {
          this.session = session;
          this.changed.fire();
        } else if (message.type === 'event' && (message.event === 'continued' || message.event === 'terminated')) {
          this.session = undefined;
          this.changed.fire();
        }
      },
    };
  }

  getTreeItem(shown: Shown): vscode.TreeItem {
    const item = new vscode.TreeItem(
      shown.name,
      shown.variablesReference > 0 ? vscode.TreeItemCollapsibleState.Expanded : vscode.TreeItemCollapsibleState.None);
    item.description = shown.value;
    item.tooltip = `${shown.name}  ${shown.value}`;
    return item;
  }

  async getChildren(parent?: Shown): Promise<Shown[]> {
    if (!this.session) {
      return [];
    }
    try {
      return parent ? await this.inside(parent.variablesReference) : await this.tables();
    } catch {
      // The run has gone on meanwhile.
      return [];
    }
  }

  private async tables(): Promise<Shown[]> {
    const { stackFrames } = await this.session!.customRequest('stackTrace', { threadId: 1, levels: 1 });
    const { scopes } = await this.session!.customRequest('scopes', { frameId: stackFrames[0].id });
    const rows = scopes.find((s: { name: string }) => s.name === 'Rows changed so far');
    return rows ? this.inside(rows.variablesReference) : [];
  }

  private async inside(reference: number): Promise<Shown[]> {
    const { variables } = await this.session!.customRequest('variables', { variablesReference: reference });
    return variables;
  }
}
