# frozen_string_literal: true

# SPDX-License-Identifier: MIT
require "bigdecimal"
require "json"

module ErrorTexts
  # Numbers by their decimal digits, plural categories, and JSON as ECMAScript writes it (3, 4, 6).
  module Numbers
    MASK = "•••"
    NUMERIC = /\A-?[0-9]+(?:\.[0-9]+)?(?:[eE][-+]?[0-9]{1,4})?\z/
    RELATION = /\A(\w)(?: % (\d+))? (!?)= (.+)\z/
    ESCAPES = { "\"" => "\\\"", "\\" => "\\\\", "\b" => "\\b", "\f" => "\\f", "\n" => "\\n", "\r" => "\\r", "\t" => "\\t" }.freeze

    module_function

    # The number that a value is, or that a text writes; else nil.
    def numeric(value)
      return BigDecimal(value.to_s) if value.is_a?(Numeric)

      value.is_a?(String) && NUMERIC.match?(value) ? BigDecimal(value) : nil
    end

    # The digits before the mark and behind it, without zeros at the end.
    def parts(number)
      whole, rest = number.abs.to_s("F").split(".")
      [whole, (rest || "").sub(/0+\z/, "")]
    end

    def digits(number)
      whole, rest = parts(number)
      (number.negative? ? "-" : "") + (rest.empty? ? whole : "#{whole}.#{rest}")
    end

    # A number with three decimals at the most, half to even.
    def rounded(number)
      parts(number)[1].length > 3 ? number.round(3, BigDecimal::ROUND_HALF_EVEN) : number
    end

    # A number as ECMAScript writes it: with an exponent from 1e21 and below 1e-6.
    def written(value)
      number = BigDecimal(value.to_s)
      exponent = number.exponent - 1
      return digits(number) if number.zero? || (exponent >= -6 && exponent < 21)

      significant = number.abs.split[1].sub(/0+\z/, "")
      text = significant[0] + (significant.length > 1 ? ".#{significant[1..]}" : "")
      format("%s%se%+d", number.negative? ? "-" : "", text, exponent)
    end

    # The plural category by the conditions of the pack (UTS 35 part 3 section 5).
    def category(number, plurals)
      found = plurals.find do |_, condition|
        condition.split(" or ").any? { |either| either.split(" and ").all? { |one| holds?(one, number) } }
      end
      found ? found[0] : "other"
    end

    def holds?(relation, number)
      operand, modulus, negated, ranges = RELATION.match(relation).captures
      whole, rest = parts(number)
      value = { "n" => number.abs, "i" => whole.to_i, "v" => rest.length, "w" => rest.length, "f" => rest.to_i, "t" => rest.to_i }[operand] || 0
      value %= modulus.to_i if modulus
      inside = ranges.split(",").any? do |range|
        low, high = range.split("..").map(&:to_i)
        value == value.to_i && value >= low && value <= (high || low)
      end
      inside == negated.empty?
    end

    # JSON, with a space behind commas and colons or none, without the parts that are secret by their paths.
    def json(value, space = "", path = [], &hides)
      return json(MASK) if hides && !path.empty? && hides.call(path)

      case value
      when String then "\"#{value.gsub(/["\\\x00-\x1f]/) { |one| ESCAPES[one] || format('\\u%04x', one.ord) }}\""
      when Numeric then written(value)
      when Array then "[#{value.each_with_index.map { |one, at| json(one, space, [*path, at], &hides) }.join(",#{space}")}]"
      when Hash then "{#{value.map { |key, one| "#{json(key.to_s)}:#{space}#{json(one, space, [*path, key.to_s], &hides)}" }.join(",#{space}")}}"
      else value.nil? ? "null" : value.to_s
      end
    end
  end
end
