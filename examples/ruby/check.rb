# frozen_string_literal: true

# SPDX-License-Identifier: MIT
# Holds the reader against the vectors: ruby check.rb FOLDER, where `zeitwort pack --sentences` and `--test-vectors` wrote.
require_relative "lib/error_texts"

folder = ARGV[0] or abort "ruby check.rb FOLDER"
vectors = JSON.parse(File.read(File.join(folder, "vectors.json"), encoding: "utf-8"))
packs = ErrorTexts::Sentences.load(folder)
alike = 0
differences = []
compare = lambda do |about, found, wanted|
  found == wanted ? alike += 1 : differences << "#{about}:\n  #{found}\n  #{wanted}"
end
shapes = lambda do |sentences, answer, bodies, about|
  bodies.each { |shape, text| compare.call("#{about} as #{shape}", ErrorTexts::Bodies.body(sentences, answer, shape)[1], text) }
end
vectors["locales"].each do |locale, groups|
  # What plain packs leave out is said with an ICU alone.
  wanted = groups.transform_values { |all| all.reject { |one| one["icu"] } }
  sentences = packs.fetch(locale)
  wanted["sentences"].each do |one|
    violation = one["violation"]
    text, inline = sentences.say(one["form"], violation)
    about = "#{locale} #{one["form"]} #{violation["path"]} #{violation["rule"]}"
    compare.call(about, text, one["sentence"])
    compare.call("#{about} inline", inline, one["inline"])
  end
  wanted["problems"].each do |one|
    answer = ErrorTexts::Bodies.problem(sentences, one["problem"], one["params"])
    about = "#{locale} #{one["problem"]}"
    compare.call(about, answer.values_at("title", "detail"), one.values_at("title", "detail"))
    shapes.call(sentences, answer, one["bodies"], about)
  end
  wanted["bodies"].each do |one|
    answer = ErrorTexts::Bodies.fields(sentences, one["form"], one["violations"])
    about = "#{locale} #{one["form"]}"
    compare.call("#{about} status", answer["status"], one["status"])
    shapes.call(sentences, answer, one["bodies"].merge(one["own"] || {}), about)
  end
end
settings = packs.values.first.pack["settings"]
vectors["languages"].each do |one|
  compare.call("Accept-Language: #{one["header"]}", ErrorTexts::Languages.preferred(one["header"], settings), one["language"])
end
warn differences.first(10) unless differences.empty?
puts "#{alike} alike, #{differences.length} different"
exit differences.empty?
