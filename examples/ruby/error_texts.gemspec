# frozen_string_literal: true

Gem::Specification.new do |spec|
  spec.name = "error_texts"
  # The first number is the version of the format that it reads.
  spec.version = "1.0.0"
  spec.summary = "Says validation errors in words, from packs of sentences"
  spec.authors = ["The Zeitwort authors"]
  spec.license = "MIT"
  spec.required_ruby_version = ">= 3.1"
  spec.files = Dir["lib/**/*.rb"]
end
