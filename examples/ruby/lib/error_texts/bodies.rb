# frozen_string_literal: true

# SPDX-License-Identifier: MIT
module ErrorTexts
  # Answers, and their bodies in every shape of a pack (6).
  module Bodies
    OF_MEMBERS = %w[additionalProperties unevaluatedProperties propertyNames].freeze
    ALONE = [401, 403, 404, 405, 410].freeze

    module_function

    # The answer of a problem of the whole request.
    def problem(sentences, name, params = {})
      title, detail = sentences.problem(name, params)
      shared(sentences, name).merge("title" => title, "detail" => detail)
    end

    # The answer to a request that broke rules; the violations come in the order of the document.
    def fields(sentences, form, violations)
      settings = sentences.pack["settings"]
      whole = whole_problem(sentences, form, violations)
      return whole if whole

      all = violations.map { |violation| broken(sentences, form, violation) }
      first = all.uniq { |one| [one[:in], one[:place]] }
      kept = settings["perField"] == "all" ? all : first
      alone = settings["detail"] == "first"
      told = kept.first(alone ? 1 : settings["maxViolations"])
      counts = alone ? { "count" => 1, "fields" => 1 } : { "count" => kept.length, "fields" => first.length }
      answer = problem(sentences, "invalid-fields", counts)
      answer["detail"] = told.map { |one| one[:text] }.join(settings["separator"]) unless settings["detail"] == "own"
      answer.merge("broken" => told, "more" => alone ? 0 : kept.length - told.length)
    end

    # The media type and the text of an answer in a shape; in that of the settings where none is named.
    def body(sentences, answer, shape = nil)
      settings = sentences.pack["settings"]
      template = Template.new(settings["shapes"][shape || settings["shape"]], settings["prefix"], answer)
      [template.media, template.write]
    end

    def shared(sentences, name)
      pack = sentences.pack
      about = pack["problems"][name]
      { "problem" => name, "type" => about["type"], "status" => about["status"], "locale" => pack["locale"],
        "direction" => pack["direction"], "extensions" => {}, "more" => 0, "broken" => [] }
    end

    # The problem that a broken rule is, where that is the answer: alone, or where all that is broken is one.
    def whole_problem(sentences, form, violations)
      return unless sentences.pack["becomes"].key?(form)

      entries = violations.map { |violation| [violation, sentences.becomes(form, violation)] }
      found = entries.select { |_, entry| entry }
      urgent = found.find { |_, entry| ALONE.include?(sentences.pack["problems"][entry["problem"]]["status"]) }
      violation, entry = urgent || (found.length == entries.length ? found.first : nil)
      return unless entry

      told, = sentences.looked_up(form, violation)
      answer = problem(sentences, entry["problem"], told)
      %w[title detail].each { |part| answer[part] = sentences.said_or_nil(entry[part], told) || answer[part] }
      answer
    end

    def broken(sentences, form, violation)
      text, inline = sentences.say(form, violation)
      rule, params, part = violation["rule"], violation["params"] || {}, violation["in"] || "body"
      path, secret = sentences.shown_path(form, violation)
      path << (secret ? Numbers::MASK : params["name"]) if OF_MEMBERS.include?(rule) && params["name"].is_a?(String)
      members = params["members"] if %w[atLeastOne exactlyOne].include?(rule)
      { path: path, in: part, place: part == "body" ? Paths.fragment(path) : path.join("."), code: sentences.code_of(violation),
        text: text, inline: sentences.pack["settings"]["inline"] ? inline : nil,
        lacks: %w[required dependentRequired].include?(rule), members: members&.map { |one| path + Paths.read(one) } }
    end
  end
end
