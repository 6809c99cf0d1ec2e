import * as cp from 'node:child_process';
import * as path from 'node:path';
import * as vscode from 'vscode';

/** The program, as the settings say it. */
export function program(): string {
  return vscode.workspace.getConfiguration('cantina').get<string>('command') || 'cantina';
}

/** Runs the program to its end. */
export function runProgram(
  folder: string,
  words: string[],
  token?: vscode.CancellationToken,
): Promise<{ code: number; out: string; err: string }> {
  return new Promise((resolve, reject) => {
    const child = cp.spawn(program(), words, { cwd: path.resolve(folder) });
    let out = '';
    let err = '';
    child.stdout.on('data', data => (out += data));
    child.stderr.on('data', data => (err += data));
    child.on('error', reject);
    child.on('close', code => resolve({ code: code ?? -1, out, err }));
    token?.onCancellationRequested(() => child.kill('SIGINT'));
  });
}
