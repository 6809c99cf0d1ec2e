" Cantina in Vim with ALE: problems and hovers in routines. Put this into the vimrc, or a file that it sources.
" The program is found by the shell, or said before: let g:cantina_command = '/path/to/cantina'
function! s:Root(buffer) abort
  let l:found = findfile('cantina.yaml', expand('#' . a:buffer . ':p:h') . ';')
  return empty(l:found) ? '' : fnamemodify(l:found, ':p:h')
endfunction

call ale#linter#Define('sql', {
\ 'name': 'cantina',
\ 'lsp': 'stdio',
\ 'executable': {-> get(g:, 'cantina_command', 'cantina')},
\ 'command': '%e serve language',
\ 'project_root': function('s:Root'),
\ 'language': 'sql',
\})
