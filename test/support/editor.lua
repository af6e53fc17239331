-- Drives a client of the protocol that a real editor has: opens the workspaces, and tells on lines of JSON what it sees.
-- The setting of the guide starts the client, as it does for whoever copies it.
local setting, broken, whole, out = unpack(vim.split(vim.env.ZEITWORT_TEST, '|', { plain = true }))
dofile(setting)
local report = io.open(out, 'w')

vim.o.swapfile = false

local function tell(what, value)
  report:write(vim.json.encode({ what = what, value = value }) .. '\n')
  report:flush()
end

local function wait(what, holds)
  if not vim.wait(20000, holds, 20) then
    tell('failed', what)
    vim.cmd('cquit')
  end
end

local function open(file)
  vim.cmd('edit ' .. vim.fn.fnameescape(file))
  wait('a client', function()
    for _, client in pairs(vim.lsp.buf_get_clients(0)) do
      if client.initialized then return true end
    end
    return false
  end)
  return vim.api.nvim_get_current_buf()
end

local function findings()
  local found = {}
  for _, one in ipairs(vim.diagnostic.get(nil)) do
    local file = vim.fn.fnamemodify(vim.api.nvim_buf_get_name(one.bufnr), ':t')
    table.insert(found, string.format('%s:%d %s', file, one.lnum + 1, one.message))
  end
  table.sort(found)
  return found
end

local function ask(method, more)
  local params = vim.tbl_extend('force', vim.lsp.util.make_position_params(0, 'utf-16'), more or {})
  local answers = vim.lsp.buf_request_sync(0, method, params, 10000)
  for _, answer in pairs(answers or {}) do
    if answer.error then tell('error', answer.error.message) end
    return answer.result
  end
end

local function at(pattern, offset)
  vim.fn.cursor(1, 1)
  vim.fn.search(pattern, 'c')
  local row, column = unpack(vim.api.nvim_win_get_cursor(0))
  vim.api.nvim_win_set_cursor(0, { row, column + (offset or 0) })
end

local function run()
  -- The broken workspace: its findings, an argument, a fix.
  local buffer = open(broken .. '/messages/en.json')
  wait('findings', function() return #vim.diagnostic.get(nil) > 50 end)
  vim.wait(500, function() return false end)
  tell('findings', findings())
  at('{min, plural', 1)
  local items = vim.lsp.util.extract_completion_items(ask('textDocument/completion'))
  tell('completion', vim.tbl_map(function(item) return item.label end, items))
  for _, item in ipairs(items) do
    if item.label == 'actual' then vim.lsp.util.apply_text_edits({ item.textEdit }, buffer, 'utf-16') end
  end
  tell('completed', vim.fn.getline(vim.fn.search('"minLength": "{label_start} must')))
  vim.cmd('undo')
  at('as the  form', 6)
  local range = vim.lsp.util.make_range_params(0, 'utf-16')
  local actions = ask('textDocument/codeAction', vim.tbl_extend('force', range, { context = { diagnostics = {} } }))
  tell('actions', vim.tbl_map(function(action) return action.title end, actions or {}))
  vim.lsp.util.apply_workspace_edit(actions[1].edit, 'utf-16')
  tell('fixed', vim.api.nvim_get_current_line())
  wait('one less', function()
    for _, one in ipairs(vim.diagnostic.get(buffer)) do
      if one.message:find('double space') then return false end
    end
    return true
  end)
  at('"requird"', 2)
  tell('hover', ask('textDocument/hover').contents.value)

  -- The other one: a field renamed in all languages, and all of it undone.
  open(whole .. '/rules/observing-proposal.yaml')
  local before = vim.api.nvim_buf_get_lines(0, 0, -1, false)
  at('abstract:', 2)
  local edit = ask('textDocument/rename', { newName = 'summary' })
  vim.lsp.util.apply_workspace_edit(edit, 'utf-16')
  local renamed = {}
  for _, one in ipairs(vim.api.nvim_list_bufs()) do
    local name = vim.api.nvim_buf_get_name(one)
    local text = table.concat(vim.api.nvim_buf_get_lines(one, 0, -1, false), '\n')
    if name:find(whole, 1, true) and text:find('summary') then table.insert(renamed, vim.fn.fnamemodify(name, ':t')) end
  end
  table.sort(renamed)
  tell('renamed', renamed)
  local same = true
  for _, one in ipairs(vim.api.nvim_list_bufs()) do
    if vim.api.nvim_buf_get_name(one):find(whole, 1, true) then
      vim.api.nvim_buf_call(one, function() vim.cmd('silent undo') end)
      local text = table.concat(vim.api.nvim_buf_get_lines(one, 0, -1, false), '\n')
      if text:find('summary') then same = false end
    end
  end
  tell('undone', same and vim.deep_equal(before, vim.api.nvim_buf_get_lines(0, 0, -1, false)))
end

local ok, trouble = xpcall(run, debug.traceback)
if not ok then
  tell('failed', trouble)
  vim.cmd('cquit')
end
vim.cmd('qall!')
