" What Vim with ALE makes of it, without a screen: vim -u vim.vim -es
set nocompatible
packadd! ale
filetype plugin on
let g:ale_linters = {'sql': ['cantina']}
let g:cantina_command = $CANTINA_HOME . '/cantina'
source $CANTINA_HOME/editors/vim/ale.vim
let g:ale_lint_delay = 0
function! Problems(count) abort
  for i in range(150)
    if len(ale#engine#GetLoclist(bufnr(''))) == a:count
      return 1
    endif
    sleep 100m
  endfor
  return 0
endfunction
function! Prove() abort
  let l:lines = []
  edit $CANTINA_PROJECT/routines/move_wine.sql
  set filetype=sql
  ALELint
  call append(21, '  SET nosuch = 1;')
  ALELint
  let l:well = Problems(1)
  let l:first = get(ale#engine#GetLoclist(bufnr('')), 0, {})
  let l:place = get(l:first, 'lnum', 0) == 22 && get(l:first, 'col', 0) == 7
  call add(l:lines, (l:well ? 'ok    ' : 'FAILED') . ' a problem is shown')
  call add(l:lines, (l:place ? 'ok    ' : 'FAILED') . ' it stands at its word')
  call writefile(l:lines, $CANTINA_PROJECT . '/vim.txt')
  if l:well && l:place
    qall!
  else
    cquit!
  endif
endfunction
autocmd VimEnter * call Prove()
