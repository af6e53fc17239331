# frozen_string_literal: true

# SPDX-License-Identifier: MIT
module ErrorTexts
  # The sentences of one language. They may be used by several threads at once.
  class Sentences
    # A sentence asks for an argument that the violation does not have.
    class Missing < StandardError; end

    RTL = '\u{590}-\u{8FF}\u{FB1D}-\u{FDFF}\u{FE70}-\u{FEFC}\u{10800}-\u{10FFF}\u{1E800}-\u{1EFFF}'
    HAS_RTL = /[#{RTL}]/
    HAS_LTR = /(?![#{RTL}])\p{L}/
    FROM_RIGHT = /(?!\p{Nd})[#{RTL}]|\p{Co}/
    SIGN = "(?![#{RTL}])[^\\p{L}\\p{Nd}\\p{Co}[:space:]()]"
    SIGNED = /\p{Nd}#{SIGN}|#{SIGN}\p{Nd}/
    BREAKS = /[\t\n\v\f\r\u{85}\u{2028}\u{2029}]+/
    UNWANTED = /[\p{Cc}\u{61C}\u{200E}\u{200F}\u{202A}-\u{202E}\u{2066}-\u{2069}]/
    # Of a list with more entries than the first number so many are named.
    MOST_ENTRIES = 20
    FEW_ENTRIES = 10

    attr_reader :pack

    def initialize(pack)
      raise ArgumentError, "this is not a pack of sentences of version #{FORMAT}" unless pack["sentences"] == FORMAT

      @pack = pack
      @rtl = pack["direction"] == "rtl"
      open, close = pack.fetch("slot", ["{", "}"])
      # A per cent sign is doubled where slots begin with one.
      @slot = /#{"%%|" if open.start_with?("%")}#{Regexp.escape(open)}([\p{L}\p{M}\p{N}_]+)#{Regexp.escape(close)}/
      @fields = pack["fields"].transform_values { |keys| Fields.new(keys.keys) }
      others = pack.fetch("locales", {})
      @others = others.transform_values { |language| Sentences.new(pack.merge(language, "locales" => {})) }
    end

    # The packs of a folder by locale.
    def self.load(folder)
      Dir[File.join(folder, "*.sentences.json")].to_h do |file|
        pack = JSON.parse(File.read(file, encoding: "utf-8"))
        [pack["locale"], new(pack)]
      end
    end

    # The sentence of a violation, and the text for beside the input or nil.
    def say(form, violation)
      told, text, inline, otherwise = looked_up(form, violation)
      listed(text).each_with_index do |one, at|
        said = said_or_nil(one, told) or next
        beside = said_or_nil(inline.is_a?(Array) ? inline[at] : inline, told)
        return [said, beside == "" ? nil : beside]
      end
      [said_or_nil(otherwise, told) || code_of(violation), nil]
    end

    def code_of(violation) = violation["as"] || violation["rule"]

    # The arguments of a violation, its sentence, its text for beside the input, and what stands in (2, 4).
    def looked_up(form, violation)
      path = Paths.read(violation["path"])
      told = (violation["params"] || {}).transform_values { |one| yes_or_no(one) }
      told["value"] = value_of(form, violation, path) if violation.key?("value")
      text = inline = otherwise = nil
      matching(form, violation).each_with_index do |(key, open), nth|
        field = @pack["fields"][form][key]
        places(told, field, open, path) if nth.zero?
        otherwise ||= field["otherwise"]
        next if text

        text = @pack["forms"][form].dig(key, code_of(violation))
        inline = text && @pack["inlines"][form].dig(key, code_of(violation))
      end
      [told, text, inline, otherwise]
    end

    # The path of a violation as it may be shown, and whether what stands there is secret (6).
    def shown_path(form, violation)
      path = Paths.read(violation["path"])
      key, = matching(form, violation).first
      field = key ? @pack["fields"][form][key] : {}
      [path[0, path.length - (field["hidden"] || 0)], field.key?("secret")]
    end

    # The entry of `becomes` for a violation, or nil (6).
    def becomes(form, violation)
      matching(form, violation).each do |key, _|
        found = @pack["becomes"].dig(form, key, code_of(violation))
        return found if found
      end
      nil
    end

    # Title and detail of a problem.
    def problem(name, params)
      about = @pack["problems"][name]
      told = {
        "located" => params["line"] && params["column"] ? "yes" : "no",
        "timed" => params["seconds"] ? "yes" : "no"
      }.merge(params)
      [said_or_nil(about["title"], told) || about["phrase"], said_or_nil(about["detail"], told) || ""]
    end

    def said_or_nil(sentence, told)
      sentence && said(sentence, told)
    rescue Missing
      nil
    end

    protected

    # A sentence, in the language that it is in where that is another (1).
    def said(sentence, told)
      return @others[sentence["locale"]].said(sentence["sentence"], told) if sentence.is_a?(Hash) && sentence.key?("sentence")

      fill(sentence, told)
    end

    private

    def listed(text) = text.is_a?(Array) ? text : [text].compact

    def matching(form, violation)
      fields = @fields[form] or raise ArgumentError, "there is no form \"#{form}\" in the pack"
      fields.matching(violation["in"] || "body", Paths.read(violation["path"]))
    end

    # The value as a text, without its parts that are secret by their place, or by the name of a secret field (4).
    def value_of(form, violation, around)
      names = @pack.fetch("secrets", {})[form]
      return text_of(violation["value"]) if names.nil? || violation["value"].is_a?(String)

      Numbers.json(violation["value"], " ") do |path|
        places = @fields[form]&.matching(violation["in"] || "body", around + path) || []
        names.include?(path.last) || places.any? { |key, _| @pack["fields"][form][key]["secret"] }
      end
    end

    # Adds the numbers and keys on the way, and hides what is secret.
    def places(told, field, open, path)
      field["positions"].zip(open) do |name, at|
        told[name] = path[at].is_a?(Integer) ? path[at] + 1 : path[at] unless told.key?(name)
      end
      %w[value name].each { |name| told[name] = Numbers::MASK if told.key?(name) } if field["secret"]
    end

    # Cases (3)

    def fill(sentence, told)
      shown = told.dup
      until sentence.is_a?(String)
        name = sentence["plural"]
        sentence = chosen(sentence, told)
        number = name && Numbers.numeric(told[name])
        shown[name] = Numbers.rounded(number) if number
      end
      sentence.gsub(@slot) do
        found = Regexp.last_match
        found[1] ? written(found[1], shown, found.pre_match) : "%"
      end
    end

    def chosen(sentence, told)
      cases = sentence["cases"]
      return cases[text_of(told[sentence["select"]])] || cases["other"] if sentence.key?("select")

      value = told[sentence["plural"]]
      raise Missing if value.nil?

      number = Numbers.numeric(value) or return cases["other"]
      cases["=#{Numbers.digits(number)}"] || cases[Numbers.category(Numbers.rounded(number), @pack["plurals"])] || cases["other"]
    end

    # Arguments (4)

    # A parameter, with a truth value as a `select` asks for it.
    def yes_or_no(value) = { true => "yes", false => "no" }.fetch(value, value)

    def text_of(value) = value.is_a?(String) ? value : Numbers.json(value, " ")

    def shown(value)
      return joined(value.map { |one| apart(shown(text_of(one)), @rtl) }) if value.is_a?(Array)

      text = text_of(value).scrub("\u{FFFD}").gsub(BREAKS, " ").gsub(UNWANTED, "")
      letters = text.grapheme_clusters
      longest = @pack["longest"]
      letters.length <= longest ? text : "#{letters.first(longest - 1).join.sub(/[[:space:]]+\z/, "")}…"
    end

    # A list as the language joins it.
    def joined(entries)
      lists = @pack["lists"]
      put = ->(name, one, other) { lists[name].sub(/\{0\}(.*)\{1\}/m) { one + Regexp.last_match(1) + other } }
      return [*entries.first(FEW_ENTRIES), "… (#{in_digits(entries.length.to_s)})"].join(lists["mark"]) if entries.length > MOST_ENTRIES
      return entries.first || "" if entries.length < 2

      *before, one, last = entries
      said = put.call(before.empty? ? "two" : "end", one, last)
      before.each_with_index.reverse_each { |entry, at| said = put.call(at.zero? ? "start" : "middle", entry, said) }
      said
    end

    # A number with the language's digits and marks, thousands set apart as it does.
    def number(value)
      numbers = @pack["numbers"]
      amount = BigDecimal(value.to_s)
      whole, rest = Numbers.parts(amount)
      last, more = numbers["sizes"]
      last = whole.length if whole.length < last + numbers["least"]
      groups = []
      until whole.empty?
        groups.unshift(whole.length > last ? whole[-last..] : whole)
        whole = whole.length > last ? whole[0...-last] : ""
        last = more
      end
      text = groups.join(numbers["group"]) + (rest.empty? ? "" : numbers["decimal"] + rest)
      (amount.negative? ? numbers["minus"] : "") + in_digits(text)
    end

    def in_digits(text) = text.gsub(/[0-9]/) { |one| @pack["numbers"]["digits"][one.to_i] }

    # Direction (5)

    # The text in an isolate where it runs against what is around it.
    def apart(text, rtl)
      rest = text.gsub(/\u{2068}[^\u{2069}]*\u{2069}/, "")
      against = HAS_RTL.match?(rest)
      if rtl
        neutral = rest == text && /\P{Nd}/.match?(text) && !FROM_RIGHT.match?(text)
        against = HAS_LTR.match?(rest) || SIGNED.match?(rest) || neutral
      end
      against ? "\u{2068}#{text}\u{2069}" : text
    end

    # What stands in a slot; inside of an isolate the direction is the other one.
    def written(name, told, before)
      base = name.delete_suffix("_quoted")
      is_quoted = told[name].nil? && base != name && !told[base].nil?
      value = is_quoted ? quoted(told[base]) : told[name]
      raise Missing if value.nil?
      return number(value) if value.is_a?(Numeric)

      inside = before.count("\u{2068}") > before.count("\u{2069}")
      apart(is_quoted ? value : shown(value), @rtl != inside)
    end

    # The text in the marks of the language.
    def quoted(value)
      text = apart(shown(value.is_a?(Array) ? shown(value) : value), @rtl)
      @pack["quoted"].sub("{text}") { text }
    end
  end
end
