// SPDX-License-Identifier: MIT

// Server is a small backend that answers with the bodies of the packs: go run ./server FOLDER [PORT], the folder with
// the packs. It takes visitor passes at POST /passes and checks them by itself, as backends do.
package main

import (
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"log"
	"mime"
	"net"
	"net/http"
	"os"
	"path/filepath"
	"regexp"
	"strings"
	"time"
	"unicode/utf8"

	"errortexts.example/errortexts"
)

const (
	form    = "visitor-pass"
	largest = 64 * 1024
)

var (
	email     = regexp.MustCompile(`^[^\s@]+@[^\s@]+\.[^\s@]+$`)
	languages = map[string]*errortexts.Sentences{}
	anyOfThem *errortexts.Sentences
)

// violationsOf returns all that is wrong with a visitor pass, in the order of its fields.
func violationsOf(visit any) []errortexts.Violation {
	found := []errortexts.Violation{}
	add := func(path, rule string, value any) {
		about := errortexts.NewObject()
		about.Set("path", path)
		about.Set("rule", rule)
		if value != nil {
			about.Set("value", value)
		}
		found = append(found, errortexts.ViolationOf(about))
	}
	pass, isObject := visit.(*errortexts.Object)
	if !isObject {
		add("", "type", nil)
		return found
	}
	isDate := func(text string) bool { _, err := time.Parse("2006-01-02", text); return err == nil }
	for _, field := range []struct {
		name, wrongType string
		isRight         func(string) bool
	}{
		{"visitor", "type", func(string) bool { return true }},
		{"email", "type", email.MatchString},
		{"day", "format", isDate},
	} {
		value := pass.Values[field.name]
		text, isText := value.(string)
		switch {
		case value == nil || isText && strings.TrimSpace(text) == "":
			add(field.name, "required", nil)
		case !isText:
			add(field.name, field.wrongType, value)
		case !field.isRight(text):
			add(field.name, "format", value)
		}
	}
	if guests := pass.Values["guests"]; guests != nil {
		number, isNumber := guests.(json.Number)
		count, err := number.Int64()
		switch {
		case !isNumber || err != nil:
			add("guests", "type", guests)
		case count < 0:
			add("guests", "minimum", guests)
		case count > 5:
			add("guests", "maximum", guests)
		}
	}
	return found
}

func sentencesFor(request *http.Request) *errortexts.Sentences {
	return languages[anyOfThem.Preferred(strings.Join(request.Header.Values("Accept-Language"), ","))]
}

func refuse(response http.ResponseWriter, sentences *errortexts.Sentences, answer errortexts.Answer) {
	media, text := sentences.Body(answer, "")
	header := response.Header()
	header.Set("Content-Type", media)
	header.Set("Content-Language", answer.Locale)
	header.Set("Vary", "Accept-Language")
	response.WriteHeader(answer.Status)
	// Of an answer to HEAD the package of the language leaves the body out.
	_, _ = io.WriteString(response, text)
}

func refuseWith(response http.ResponseWriter, request *http.Request, problem string, params map[string]any) {
	sentences := sentencesFor(request)
	refuse(response, sentences, sentences.Problem(problem, params))
}

func passes(response http.ResponseWriter, request *http.Request) {
	if request.URL.Path != "/passes" {
		refuseWith(response, request, "not-found", nil)
		return
	}
	if request.Method != http.MethodPost {
		response.Header().Set("Allow", "POST")
		refuseWith(response, request, "wrong-method", nil)
		return
	}
	content, err := io.ReadAll(http.MaxBytesReader(response, request.Body, largest))
	if tooLarge := (*http.MaxBytesError)(nil); errors.As(err, &tooLarge) {
		refuseWith(response, request, "too-large", nil)
		return
	}
	if err != nil || len(content) == 0 {
		refuseWith(response, request, "empty-body", nil)
		return
	}
	if media, _, _ := mime.ParseMediaType(request.Header.Get("Content-Type")); media != "application/json" {
		response.Header().Set("Accept", "application/json")
		refuseWith(response, request, "wrong-media-type", nil)
		return
	}
	visit, err := errortexts.ReadJSON(string(content))
	if err != nil || !utf8.Valid(content) {
		refuseWith(response, request, "malformed-body", nil)
		return
	}
	if found := violationsOf(visit); len(found) > 0 {
		sentences := sentencesFor(request)
		answer, err := sentences.Fields(form, found)
		if err != nil {
			panic(err)
		}
		refuse(response, sentences, answer)
		return
	}
	response.Header().Set("Content-Type", "application/json")
	response.WriteHeader(http.StatusCreated)
	_ = json.NewEncoder(response).Encode(map[string]any{"pass": errortexts.Get(visit, "visitor")})
}

// guarded answers whatever goes wrong with a problem; a client is told nothing of it.
func guarded(handle http.HandlerFunc) http.HandlerFunc {
	return func(response http.ResponseWriter, request *http.Request) {
		defer func() {
			if trouble := recover(); trouble != nil {
				log.Print(trouble)
				refuseWith(response, request, "unexpected", nil)
			}
		}()
		handle(response, request)
	}
}

func main() {
	if len(os.Args) < 2 {
		log.Fatal("go run ./server FOLDER [PORT]")
	}
	files, err := filepath.Glob(filepath.Join(os.Args[1], "*.sentences.json"))
	if err != nil || len(files) == 0 {
		log.Fatalf("there are no packs in %s", os.Args[1])
	}
	for _, file := range files {
		sentences, err := errortexts.Open(file)
		if err != nil {
			log.Fatal(err)
		}
		languages[errortexts.Get(sentences.Pack, "locale").(string)] = sentences
		anyOfThem = sentences
	}
	port := "8080"
	if len(os.Args) > 2 {
		port = os.Args[2]
	}
	listener, err := net.Listen("tcp", "127.0.0.1:"+port)
	if err != nil {
		log.Fatal(err)
	}
	fmt.Printf("http://%s/passes\n", listener.Addr())
	server := &http.Server{Handler: guarded(passes), ReadTimeout: 10 * time.Second}
	log.Fatal(server.Serve(listener))
}
