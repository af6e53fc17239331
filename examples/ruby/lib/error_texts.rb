# frozen_string_literal: true

# SPDX-License-Identifier: MIT
# Says violations in words from packs of plain sentences: nothing but Ruby's standard library.
# Written from docs/reference/packs.md; the numbers in the comments are its sections.
module ErrorTexts
  # The version of the format that is read.
  FORMAT = 1
end

require_relative "error_texts/numbers"
require_relative "error_texts/paths"
require_relative "error_texts/sentences"
require_relative "error_texts/languages"
require_relative "error_texts/template"
require_relative "error_texts/bodies"
