#!/usr/bin/perl
# SPDX-License-Identifier: MIT
# Holds the reader against the vectors: perl check.pl FOLDER, where `zeitwort pack --sentences` and `--test-vectors` wrote.
use v5.30;
use warnings;
use open qw(:std :encoding(UTF-8));
use FindBin qw($Bin);
use lib "$Bin/lib";
use ErrorTexts            qw(open_pack say_violation);
use ErrorTexts::Bodies    qw(body fields_answer problem_answer);
use ErrorTexts::JSON      qw(read_json);
use ErrorTexts::Languages qw(preferred);

my ($folder) = @ARGV or die "perl check.pl FOLDER\n";
my ($alike, @different) = (0);

sub compare {
    my ($about, $found, $wanted) = map { $_ // '(none)' } @_;
    if   ($found eq $wanted) { $alike += 1 }
    else                     { push @different, "$about:\n  $found\n  $wanted" }
}

sub compare_bodies {
    my ($pack, $answer, $bodies, $about) = @_;
    for my $shape (keys %{ $bodies // {} }) {
        my (undef, $text) = body($pack, $answer, $shape);
        compare("$about as $shape", $text, $bodies->{$shape});
    }
}

open my $in, '<:encoding(UTF-8)', "$folder/vectors.json" or die "$folder/vectors.json: $!\n";
my $vectors = read_json(do { local $/; <$in> });
my $settings;
for my $locale (keys %{ $vectors->{locales} }) {
    my $pack   = open_pack("$folder/$locale.sentences.json");
    my $groups = $vectors->{locales}{$locale};
    # What plain packs leave out is said with an ICU alone.
    my %wanted = map { my $group = $_; ($group => [grep { !$_->{icu} } @{ $groups->{$group} }]) } keys %$groups;
    $settings = $pack->{settings};
    for (@{ $wanted{sentences} }) {
        my ($text, $inline) = say_violation($pack, $_->{form}, $_->{violation});
        my $about = "$locale $_->{form} $_->{violation}{path} $_->{violation}{rule}";
        compare($about,          $text,   $_->{sentence});
        compare("$about inline", $inline, $_->{inline});
    }
    for (@{ $wanted{problems} }) {
        my $answer = problem_answer($pack, $_->{problem}, $_->{params});
        compare("$locale $_->{problem}", "$answer->{title}\n$answer->{detail}", "$_->{title}\n$_->{detail}");
        compare_bodies($pack, $answer, $_->{bodies}, "$locale $_->{problem}");
    }
    for (@{ $wanted{bodies} }) {
        my $answer = fields_answer($pack, $_->{form}, @{ $_->{violations} });
        compare("$locale $_->{form} status", $answer->{status}, $_->{status});
        compare_bodies($pack, $answer, $_, "$locale $_") for grep { defined } @$_{qw(bodies own)};
    }
}
compare("Accept-Language: $_->{header}", preferred($_->{header}, $settings), $_->{language}) for @{ $vectors->{languages} };
print STDERR "$_\n" for @different > 10 ? @different[0 .. 9] : @different;
say "$alike alike, ", scalar @different, ' different';
exit(@different ? 1 : 0);
