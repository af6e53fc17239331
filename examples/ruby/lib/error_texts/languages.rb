# frozen_string_literal: true

# SPDX-License-Identifier: MIT
module ErrorTexts
  # The language that a client likes best (7).
  module Languages
    RANGE = /\A\s*(\*|[a-z0-9]+(?:-[a-z0-9*]+)*)\s*(?:;\s*q=(0(?:\.\d{0,3})?|1(?:\.0{0,3})?)\s*)?\z/
    # Longer headers are no preference of anyone.
    LONGEST = 1024

    module_function

    # One of the languages of a pack's settings; the header may be nil.
    def preferred(header, settings)
      locales = [settings["original"], *settings["locales"]].uniq
      parents = (settings["parents"] || {}).to_h { |child, parent| [child.downcase, parent.downcase] }
      ranges = (header || "")[0, LONGEST].downcase.split(",").filter_map { |part| RANGE.match(part)&.captures }
      wanted, refused = ranges.map { |tag, weight| [tag, (weight || 1).to_f] }.partition { |_, weight| weight.positive? }
      tags = wanted.each_with_index.sort_by { |(_, weight), at| [-weight, at] }.map { |(tag, _), _| tag }
      free = lambda do |locale|
        against = covering(refused.map(&:first), locale)
        against.zero? || covering(tags, locale) > against
      end
      tags.each do |tag|
        found = candidates(tag, locales, parents).find(&free)
        return found if found
      end
      locales.find(&free) || locales.first
    end

    # How long the longest of the ranges is that a language falls under; 0 where none does.
    def covering(ranges, locale)
      ranges.select { |one| "#{locale.downcase}-".start_with?("#{one}-") }.map(&:length).max || 0
    end

    # The languages that serve a range: it, what stands in for it, else those that say more.
    def candidates(tag, locales, parents)
      return locales if tag == "*"

      chain = wider(tag, parents)
      near = chain.flat_map { |one| locales.select { |locale| locale.casecmp?(one) } }
      near.empty? ? locales.select { |locale| wider(locale.downcase, parents).include?(chain.last) } : near
    end

    # A tag, and those that stand in for it, in small letters.
    def wider(tag, parents)
      all = []
      until ["", "und"].include?(tag)
        all << tag
        # A subtag of one letter goes with the one behind it.
        tag = parents[tag] || (tag.include?("-") ? tag.sub(/(-.)*(-[^-]*)?\z/, "") : "")
      end
      all
    end
  end
end
