# frozen_string_literal: true

# SPDX-License-Identifier: MIT
module ErrorTexts
  # A shape: what fills the slots of its template with an answer (6.1).
  class Template
    SLOT = /<([a-z][a-z-]*)(?:\("([^"]*)"\))?>/
    ESCAPES = { "&" => "&amp;", "<" => "&lt;", ">" => "&gt;", "\"" => "&quot;", "'" => "&#39;" }.freeze
    NO_XML = /[\u{0}-\u{8}\u{b}\u{c}\u{e}-\u{1f}\u{fffe}\u{ffff}]/
    XML = "application/problem+xml"
    OF_ANSWER = %w[title status type problem instance locale direction time address more extensions request-id trace-id details
                   detail uri count fields texts broken].freeze
    OF_FIELD = %w[field pointer in texts text inlines beside codes].freeze
    OF_VIOLATION = %w[field path pointer place fragment header parameter in part code text inline beside members member-fragments
                      member-fields member-paths member-pointers nearest missing developer].freeze
    SLOTS = (OF_ANSWER + OF_FIELD + OF_VIOLATION).uniq.freeze

    attr_reader :media

    def initialize(shape, prefix, answer)
      @media = shape["mediaType"]
      @body = shape["body"]
      @prefix = prefix
      @answer = answer
      @markup = @media != XML && @media.match?(/html|xml/)
    end

    # The body's text.
    def write
      value = fill(@body, nil)
      if @media == XML
        inside = value.map { |name, member| xml(name, member) }.join
        return %(<?xml version="1.0" encoding="UTF-8"?>\n<problem xmlns="urn:ietf:rfc:7807" xml:lang="#{@answer["locale"]}">#{inside}</problem>)
      end
      value.is_a?(String) && !@media.include?("json") ? value : Numbers.json(value)
    end

    private

    # What a node says; nil is left out of objects.
    def fill(node, at)
      case node
      when String then text(node, at)
      when Array then node.map { |one| fill(one, at) }
      when Hash then object(node, at)
      else node
      end
    end

    def object(node, at)
      return each(node) if node.key?("each")
      return fill(node[full?(slot(node["when"], at)) ? "node" : "otherwise"], at) if node.key?("when") && node.key?("node")
      return join(node, at) if node["join"].is_a?(Array) && (node.keys - %w[join with]).empty?

      if node.keys == ["unless-empty"]
        value = fill(node["unless-empty"], at)
        return full?(value) ? value : nil
      end
      node.each_with_object({}) do |(key, one), made|
        value = fill(one, at)
        if key == "..." then made.merge!(value || {})
        elsif !value.nil? || one.nil? then made[key] = value
        end
      end
    end

    def full?(value)
      !(value.nil? || value == false || value == 0 || (value.respond_to?(:empty?) && value.empty?))
    end

    def grouped
      @answer["broken"].group_by { |one| [one[:in], Paths.print(one[:path])] }.values
    end

    def each(node)
      kind = node["each"]
      all = kind == "violation" ? @answer["broken"].map { |one| [one] } : grouped
      all = all.select { |one| (one[0][:in] == "body") == (kind == "body-field") } if %w[body-field other-field].include?(kind)
      places = all.map { |one| [kind != "violation", one] }
      values = places.map { |at| fill(node["node"], at) }
      return values unless node.key?("key")

      places.map { |at| shown(text(node["key"], at)) }.zip(values).reject { |_, value| value.nil? }.to_h
    end

    def join(node, at)
      parts = node["join"].flat_map { |one| fill(one, at).then { |value| value.is_a?(Array) ? value : [value] } }
      parts = parts.reject { |one| one.nil? || one == "" }
      node.key?("with") ? parts.map { |one| shown(one) }.join(node["with"]) : parts
    end

    def shown(value)
      value.is_a?(String) ? value : value.nil? ? "" : Numbers.json(value)
    end

    def escaped(value)
      @markup && value.is_a?(String) ? value.gsub(/[&<>"']/, ESCAPES) : value
    end

    def text(text, at)
      only = /\A#{SLOT}\z/o.match(text)
      if only && only[2].nil? && SLOTS.include?(only[1])
        value = slot(only[1], at)
        return value.is_a?(Array) ? value.map { |one| escaped(one) } : escaped(value)
      end
      text.gsub(SLOT) do |found|
        name, separator = Regexp.last_match.captures
        next found unless SLOTS.include?(name)

        value = slot(name, at)
        next value.map { |one| escaped(shown(one)) }.join(separator) if separator && value.is_a?(Array)

        escaped(shown(value))
      end
    end

    def slot(name, at)
      by_field, here = at
      own = here && (by_field ? (of_field(name, here) if OF_FIELD.include?(name)) : (of_violation(name, here[0]) if OF_VIOLATION.include?(name)))
      own.nil? && OF_ANSWER.include?(name) ? of_answer(name) : own
    end

    def of_answer(name)
      broken = @answer["broken"]
      case name
      when "detail" then @answer["detail"].empty? ? nil : @answer["detail"]
      when "uri" then @answer["type"] == "about:blank" ? nil : @answer["type"]
      when "count" then broken.length + @answer["more"]
      when "fields" then grouped.map { |group| Paths.print(group[0][:path]) }
      when "texts" then broken.map { |one| one[:text] }
      when "broken" then @answer["problem"] == "invalid-fields" || nil
      else @answer[name]
      end
    end

    def of_violation(name, one)
      path, body, place, members = one[:path], one[:in] == "body", one[:place], one[:members]
      case name
      when "field" then Paths.print(path)
      when "path" then path
      when "pointer" then body ? Paths.pointer(path) : place
      when "place" then place
      when "fragment" then body ? place : nil
      when "header" then one[:in] == "header" ? place : nil
      when "parameter" then body || one[:in] == "header" ? nil : place
      when "in" then one[:in]
      when "part" then body ? nil : one[:in]
      when "code" then one[:code]
      when "text" then one[:text]
      when "inline" then one[:inline] || one[:text]
      when "beside" then one[:inline]
      when "members" then members&.map { |member| Paths.pointer(member) }
      when "member-fragments" then members&.map { |member| Paths.fragment(member) }
      when "member-fields" then members&.map { |member| Paths.print(member) }
      when "member-paths" then members
      when "member-pointers" then members&.map { |member| @prefix + Paths.pointer(member) }
      when "nearest" then body ? @prefix + Paths.pointer(present(one)) : nil
      when "missing" then body && one[:lacks] && !path.empty? ? @prefix + Paths.pointer(path) : nil
      end
    end

    def of_field(name, group)
      case name
      when "field", "pointer", "in" then of_violation(name, group[0])
      when "texts" then group.map { |one| one[:text] }
      when "text" then group.map { |one| one[:text] }.join(" ")
      when "inlines" then group.map { |one| one[:inline] || one[:text] }
      when "beside" then group.filter_map { |one| one[:inline] }.first
      when "codes" then group.map { |one| one[:code] }
      end
    end

    # The nearest place around a path that is in the request: what is missing is not.
    def present(one)
      lacking = @answer["broken"].select { |other| other[:lacks] && other[:in] == "body" }.map { |other| Paths.pointer(other[:path]) }
      path = one[:path]
      path = path[0...-1] while one[:lacks] && !path.empty? && lacking.include?(Paths.pointer(path))
      path
    end

    # RFC 9457 appendix B: members are elements, the entries of a list are `i`.
    def xml(name, value)
      return "" if value.nil?

      inside = case value
               when Array then value.map { |one| xml("i", one) }.join
               when Hash then value.map { |key, one| xml(/\A[A-Za-z_][A-Za-z0-9_.-]*\z/.match?(key) ? key : "member", one) }.join
               else shown(value).gsub(/[&<>"]/, ESCAPES).gsub(NO_XML, "")
               end
      "<#{name}>#{inside}</#{name}>"
    end
  end
end
