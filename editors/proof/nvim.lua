-- What Neovim makes of it, without a screen: nvim --headless -u NONE -S nvim.lua
local root, home = vim.env.CANTINA_PROJECT, vim.env.CANTINA_HOME
package.path = home .. '/editors/nvim/?.lua;' .. package.path
local failed = 0
local function expect(what, is)
  io.stdout:write((is and 'ok    ' or 'FAILED ') .. what .. '\n')
  if not is then failed = failed + 1 end
end
vim.cmd('filetype on')
require('cantina').setup({ command = home .. '/cantina' })
vim.cmd('edit ' .. root .. '/routines/move_wine.sql')
vim.cmd('setfiletype sql')
local buf = vim.api.nvim_get_current_buf()
vim.api.nvim_exec_autocmds('FileType', { buffer = buf })
local clients = vim.lsp.get_clients or vim.lsp.get_active_clients
local function client() return clients()[1] end
expect('the server starts', vim.wait(20000, function() local c = client(); return c ~= nil and c.initialized == true end))
vim.wait(2000)
expect('a sound routine has no problems', #vim.diagnostic.get(buf) == 0)
vim.api.nvim_buf_set_lines(buf, 21, 21, false, { '  SET nosuch = 1;' })
vim.wait(8000, function() return #vim.diagnostic.get(buf) > 0 end)
local first = vim.diagnostic.get(buf)[1]
expect('a problem stands at its word', first ~= nil and first.lnum == 21 and first.col == 6)
local function ask(method, line, column)
  local answers = vim.lsp.buf_request_sync(buf, method,
    { textDocument = { uri = vim.uri_from_bufnr(buf) }, position = { line = line, character = column } }, 8000)
  for _, answer in pairs(answers or {}) do return answer.result end
end
local hover = ask('textDocument/hover', 24, 42)
expect('a hover tells a type', hover ~= nil and hover.contents.value:find('DECIMAL') ~= nil)
local definition = ask('textDocument/definition', 24, 42)
expect('a definition is found', definition ~= nil and definition[1] ~= nil and definition[1].range.start.line == 4)
local completed = ask('textDocument/completion', 24, 9)
local offered = false
for _, item in ipairs(completed or {}) do offered = offered or item.label == 'vessel' end
expect('a table is offered', offered)
vim.cmd(failed > 0 and 'cquit!' or 'qall!')
