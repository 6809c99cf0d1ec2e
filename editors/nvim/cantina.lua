-- Cantina in Neovim (0.7 and newer): problems, hover, definitions, completion and renaming in routines and cases.
-- Put this file where Neovim finds Lua modules (~/.config/nvim/lua/), and say in init.lua: require('cantina').setup()
local M = {}

function M.setup(options)
  options = options or {}
  local command = options.command or 'cantina'
  vim.api.nvim_create_autocmd('FileType', {
    pattern = { 'sql', 'yaml' },
    callback = function(event)
      local file = vim.api.nvim_buf_get_name(event.buf)
      local found = vim.fs and vim.fs.find('cantina.yaml', { path = vim.fn.fnamemodify(file, ':h'), upward = true })[1]
        or vim.fn.findfile('cantina.yaml', vim.fn.fnamemodify(file, ':h') .. ';')
      if not found or found == '' then
        return
      end
      local root = vim.fn.fnamemodify(found, ':p:h')
      M.clients = M.clients or {}
      if not M.clients[root] then
        M.clients[root] = vim.lsp.start_client({
          name = 'cantina',
          cmd = { command, 'serve', 'language' },
          root_dir = root,
          workspace_folders = { { name = root, uri = vim.uri_from_fname(root) } },
        })
      end
      vim.lsp.buf_attach_client(event.buf, M.clients[root])
      vim.bo[event.buf].omnifunc = 'v:lua.vim.lsp.omnifunc'
      local keys = { buffer = event.buf }
      vim.keymap.set('n', 'K', vim.lsp.buf.hover, keys)
      vim.keymap.set('n', 'gd', vim.lsp.buf.definition, keys)
      vim.keymap.set('n', 'gr', vim.lsp.buf.references, keys)
    end,
  })
end

return M
