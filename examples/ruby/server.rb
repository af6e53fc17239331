# frozen_string_literal: true

# SPDX-License-Identifier: MIT
# A small backend that answers with the bodies of the packs: ruby server.rb FOLDER [PORT], the folder with the packs.
# It takes visitor passes at POST /passes and checks them by itself, as backends do. It needs the gem webrick.
require "date"
require "json"
require "webrick"
require_relative "lib/error_texts"

LARGEST = 64 * 1024
EMAIL = /\A[^\s@]+@[^\s@]+\.[^\s@]+\z/

def date?(text)
  /\A\d{4}-\d\d-\d\d\z/.match?(text) && Date.strptime(text, "%Y-%m-%d")
rescue Date::Error
  false
end

# All that is wrong with a visitor pass, in the order of its fields.
def violations_of(visit)
  return [{ "path" => "", "rule" => "type", "params" => { "expected" => "object" } }] unless visit.is_a?(Hash)

  fields = { "visitor" => ["type", ->(_) { true }], "email" => ["type", EMAIL.method(:match?)], "day" => ["format", method(:date?)] }
  found = fields.filter_map do |name, (wrong_type, right)|
    value = visit[name]
    if value.nil? || (value.is_a?(String) && value.strip.empty?) then { "path" => name, "rule" => "required" }
    elsif !value.is_a?(String) then { "path" => name, "rule" => wrong_type, "value" => value }
    elsif !right.call(value) then { "path" => name, "rule" => "format", "value" => value }
    end
  end
  guests = visit["guests"]
  return found if guests.nil? || (guests.is_a?(Integer) && guests.between?(0, 5))

  rule = !guests.is_a?(Integer) ? "type" : guests.negative? ? "minimum" : "maximum"
  found << { "path" => "guests", "rule" => rule, "value" => guests }
end

# Every method of every address comes here, so that the server answers nothing in words of its own.
class Passes < WEBrick::HTTPServlet::AbstractServlet
  def service(request, response)
    languages = @options.first
    locale = ErrorTexts::Languages.preferred(request["Accept-Language"], languages.values.first.pack["settings"])
    sentences = languages.fetch(locale)
    answer = answer_to(request, response, sentences)
    return unless answer

    response.status = answer["status"]
    response["Content-Type"], response.body = ErrorTexts::Bodies.body(sentences, answer)
    response["Content-Language"] = locale
    response["Vary"] = "Accept-Language"
  end

  private

  # The answer for what went wrong; nil where nothing did.
  def answer_to(request, response, sentences)
    problem = ->(name, params = {}) { ErrorTexts::Bodies.problem(sentences, name, params) }
    return problem.call("not-found") if request.path != "/passes"
    if request.request_method != "POST"
      response["Allow"] = "POST"
      return problem.call("wrong-method")
    end
    content = request.body.to_s
    return problem.call("too-large") if content.bytesize > LARGEST
    return problem.call("empty-body") if content.empty?
    if request.content_type.to_s.split(";").first != "application/json"
      response["Accept"] = "application/json"
      return problem.call("wrong-media-type")
    end
    visit = JSON.parse(content.force_encoding(Encoding::UTF_8))
    found = violations_of(visit)
    return ErrorTexts::Bodies.fields(sentences, "visitor-pass", found) unless found.empty?

    response.status = 201
    response["Content-Type"] = "application/json"
    response.body = JSON.generate({ "pass" => visit["visitor"] })
    nil
  rescue JSON::ParserError, JSON::GeneratorError
    problem.call("malformed-body")
  rescue StandardError => e
    # Whatever it is, a client is told nothing of it.
    warn e.full_message
    problem.call("unexpected")
  end
end

server = WEBrick::HTTPServer.new(BindAddress: "127.0.0.1", Port: (ARGV[1] || 8080).to_i, AccessLog: [], Logger: WEBrick::Log.new(File::NULL))
server.mount("/", Passes, ErrorTexts::Sentences.load(ARGV.fetch(0)))
puts "http://127.0.0.1:#{server.listeners.first.addr[1]}/passes"
$stdout.flush
%w[INT TERM].each { |signal| trap(signal) { server.shutdown } }
server.start
