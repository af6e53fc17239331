-- Save as ~/.config/nvim/plugin/zeitwort.lua. Neovim 0.7 and later.
local command = { 'zeitwort', 'lsp' }
local clients = {}
vim.o.completeopt = 'menuone,noinsert'

--- One server for each workspace: the folder of zeitwort.yaml, or the first above the file.
local function attach(buffer)
  local file = vim.api.nvim_buf_get_name(buffer)
  local found = vim.fn.findfile('zeitwort.yaml', vim.fn.fnamemodify(file, ':p:h') .. ';')
  if found == '' then return end
  local root = vim.fn.fnamemodify(found, ':p:h')
  clients[root] = clients[root] or vim.lsp.start_client({ name = 'zeitwort', cmd = command, root_dir = root })
  vim.lsp.buf_attach_client(buffer, clients[root])
  vim.bo[buffer].omnifunc = 'v:lua.vim.lsp.omnifunc' -- Ctrl+X Ctrl+O completes
  local function map(keys, call) vim.keymap.set('n', keys, call, { buffer = buffer }) end
  map('K', vim.lsp.buf.hover)
  map('gd', vim.lsp.buf.definition)
  map('gr', vim.lsp.buf.references)
  map('<leader>r', vim.lsp.buf.rename)
  map('<leader>a', vim.lsp.buf.code_action)
  map('<leader>e', vim.diagnostic.open_float)
end

vim.api.nvim_create_autocmd('FileType', {
  pattern = { 'json', 'jsonc', 'yaml' },
  callback = function(event) attach(event.buf) end,
})
