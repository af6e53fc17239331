# frozen_string_literal: true

# SPDX-License-Identifier: MIT
module ErrorTexts
  # Paths and patterns (2): members are texts, elements integers from 0, open segments symbols.
  module Paths
    BARE = /[^.\[\]"'*\p{Z}\p{Cc}]+/
    SEGMENT = /\[(?:(\d+)|("(?:[^"\\]|\\.)*")|\*)\]|(\.\.)(?=.)|\.?(#{BARE})|\.?\*/
    KEPT = /[^A-Za-z0-9\-._~!'()*@:$&+,;=\/]/

    module_function

    def read(text)
      text.to_enum(:scan, SEGMENT).map do
        found = Regexp.last_match
        if found[1] then found[1].to_i
        elsif found[2] then JSON.parse(found[2])
        elsif found[3] then :depth
        else found[4] || (found[0] == "[*]" ? :element : :key)
        end
      end
    end

    def print(path)
      path.reduce(+"") do |text, one|
        text << if one.is_a?(Integer) then "[#{one}]"
                elsif !/\A#{BARE}\z/o.match?(one) then "[#{Numbers.json(one)}]"
                else (text.empty? ? "" : ".") + one
                end
      end
    end

    # A JSON Pointer (RFC 6901).
    def pointer(path)
      path.map { |one| "/#{one.to_s.gsub("~", "~0").gsub("/", "~1")}" }.join
    end

    # A JSON Pointer as a URI fragment (RFC 6901 section 6).
    def fragment(path)
      "##{pointer(path).gsub(KEPT) { |one| one.bytes.map { |byte| format('%%%02X', byte) }.join }}"
    end
  end

  # The fields of a form as trees from the last segment to the first, so that a path takes no longer than it is deep.
  class Fields
    Node = Struct.new(:to, :end)

    def initialize(keys)
      @roots = {}
      keys.each do |key|
        place, path = /\A(query|header|cookie|path):(.*)\z/m.match(key)&.captures || ["body", key]
        pattern = Paths.read(path)
        node = @roots[place] ||= Node.new({})
        pattern.reverse_each { |one| node = node.to[one] ||= Node.new({}) }
        node.end = [key, open_of(pattern)]
      end
    end

    # The key and the open places of each field whose pattern matches, in the order of section 2.
    def matching(place, path)
      found = []
      collect(@roots[place], path, path.length, found)
      found
    end

    private

    # Behind `..` places are counted from the end.
    def open_of(pattern)
      depth = pattern.index(:depth) || pattern.length
      pattern.each_index.filter_map do |at|
        next unless %i[element key].include?(pattern[at])

        at < depth ? at : at - pattern.length
      end
    end

    def collect(node, path, left, found)
      return unless node

      found << node.end if left.zero? && node.end
      if left.positive?
        last = path[left - 1]
        collect(node.to[last], path, left - 1, found)
        collect(node.to[last.is_a?(Integer) ? :element : :key], path, left - 1, found)
      end
      deeper = node.to[:depth]
      left.downto(0) { |further| collect(deeper, path, further, found) } if deeper
    end
  end
end
