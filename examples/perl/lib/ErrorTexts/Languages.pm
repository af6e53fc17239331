# SPDX-License-Identifier: MIT
package ErrorTexts::Languages;

# The language that a client likes best (section 7).
use v5.30;
use warnings;
use Exporter   qw(import);
use List::Util qw(first max uniq);

our @EXPORT_OK = qw(preferred);

# Longer headers are no preference of anyone.
my $longest = 1024;
my $range   = qr/^\s*(\*|[a-z0-9]+(?:-[a-z0-9*]+)*)\s*(?:;\s*q=(0(?:\.\d{0,3})?|1(?:\.0{0,3})?)\s*)?\z/;

# One of the languages of a pack's settings; the header may be undefined.
sub preferred {
    my ($header, $settings) = @_;
    my @locales = uniq $settings->{original}, @{ $settings->{locales} };
    my $known   = $settings->{parents} // {};
    my %parents = map { (lc $_ => lc $known->{$_}) } keys %$known;
    my @ranges  = map { lc($_) =~ $range ? [$1, $2 // 1] : () } split /,/, substr $header // '', 0, $longest;
    # Perl's sort keeps the order of equals.
    my @wanted  = map { $_->[0] } sort { $b->[1] <=> $a->[1] } grep { $_->[1] > 0 } @ranges;
    my @refused = map { $_->[0] } grep { $_->[1] == 0 } @ranges;
    my $is_free = sub {
        my ($locale) = @_;
        my $against = covering($locale, @refused);
        return !$against || covering($locale, @wanted) > $against;
    };
    for my $tag (@wanted) {
        my $found = first { $is_free->($_) } candidates($tag, \%parents, @locales);
        return $found if defined $found;
    }
    return (first { $is_free->($_) } @locales) // $locales[0];
}

# How long the longest of the ranges is that a language falls under; 0 where none does.
sub covering {
    my ($locale, @ranges) = @_;
    return max 0, map { length } grep { index(lc "$locale-", "$_-") == 0 } @ranges;
}

# The languages that serve a range: it, what stands in for it, else those that say more.
sub candidates {
    my ($tag, $parents, @locales) = @_;
    return @locales if $tag eq '*';
    my @chain = wider($tag, $parents);
    my @near = map { my $one = $_; grep { lc eq $one } @locales } @chain;
    return @near if @near;
    return grep { first { $_ eq $chain[-1] } wider(lc $_, $parents) } @locales;
}

# A tag, and those that stand in for it, in small letters.
sub wider {
    my ($tag, $parents) = @_;
    my @all;
    while ($tag ne '' && $tag ne 'und') {
        push @all, $tag;
        # A subtag of one letter goes with the one behind it.
        $tag = $parents->{$tag} // ($tag =~ /-/ ? $tag =~ s/(?:-.)*(?:-[^-]*)?\z//r : '');
    }
    return @all;
}

1;
