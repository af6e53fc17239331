# SPDX-License-Identifier: MIT
package ErrorTexts::JSON;

# JSON whose objects keep the order of their members, and JSON as ECMAScript writes it (sections 4 and 6).
use v5.30;
use warnings;
use utf8;
use B        ();
use Exporter qw(import);
use JSON::PP ();

our @EXPORT_OK = qw(is_number read_json write_json decimal_digits);

my $json    = JSON::PP->new->allow_nonref;
my %escapes = ("\b" => '\b', "\f" => '\f', "\n" => '\n', "\r" => '\r', "\t" => '\t', '"' => '\"', '\\' => '\\\\');

# A hash that keeps its order.
package ErrorTexts::JSON::Ordered {
    sub TIEHASH  { return bless { of => {}, order => [] }, shift }
    sub FETCH    { return $_[0]{of}{ $_[1] } }
    sub EXISTS   { return exists $_[0]{of}{ $_[1] } }
    sub FIRSTKEY { $_[0]{at} = 0; return $_[0]{order}[0] }
    sub NEXTKEY  { return $_[0]{order}[++$_[0]{at}] }
    sub SCALAR   { return scalar @{ $_[0]{order} } }

    sub STORE {
        my ($self, $key, $value) = @_;
        push @{ $self->{order} }, $key if !exists $self->{of}{$key};
        return $self->{of}{$key} = $value;
    }
}

sub ordered {
    tie my %made, 'ErrorTexts::JSON::Ordered';
    return \%made;
}

sub is_number {
    my ($value) = @_;
    return 0 if !defined $value || ref $value;
    my $flags = B::svref_2object(\$value)->FLAGS;
    return $flags & (B::SVf_IOK | B::SVf_NOK) && !($flags & B::SVf_POK);
}

# Reads a JSON text of characters.
sub read_json {
    my ($text) = @_;
    pos($text) = 0;
    my $value = value(\$text);
    die "this is no JSON\n" if $text !~ /\G\s*\z/gc;
    return $value;
}

sub value {
    my ($text) = @_;
    $$text =~ /\G\s+/gc;
    return JSON::PP::decode_json("[$1]")->[0] if $$text =~ /\G(true|false|null)/gc;
    if ($$text =~ /\G("(?:[^"\\\x00-\x1f]++|\\.)*+")/gcs) {
        my $written = $1;
        return $written =~ /\\/ ? $json->decode($written) : substr $written, 1, -1;
    }
    return 0 + $1 if $$text =~ /\G(-?\d+(?:\.\d+)?(?:[eE][-+]?\d+)?)/gc;
    my $opened = $$text =~ /\G([\[{])\s*/gc ? $1 : die "this is no JSON\n";
    my $made   = $opened eq '[' ? [] : ordered();
    return $made if $$text =~ /\G[\]}]/gc;
    do {
        if ($opened eq '[') { push @$made, value($text) }
        else {
            my $name = value($text);
            die "this is no JSON\n" if $$text !~ /\G\s*:/gc;
            $made->{$name} = value($text);
        }
    } while ($$text =~ /\G\s*,/gc);
    die "this is no JSON\n" if $$text !~ /\G\s*[\]}]/gc;
    return $made;
}

# Writes JSON, with a space behind commas and colons or none, without the parts that are secret by their paths.
sub write_json {
    my ($value, $space, $hides, @path) = @_;
    $space //= '';
    return '"•••"' if $hides && @path && $hides->(@path);
    return 'null' if !defined $value;
    return '[' . join(",$space", map { write_json($value->[$_], $space, $hides, @path, ['index', $_]) } 0 .. $#$value) . ']'
        if ref $value eq 'ARRAY';
    return '{' . join(",$space", map { quote($_) . ":$space" . write_json($value->{$_}, $space, $hides, @path, ['name', $_]) } keys %$value) . '}'
        if ref $value eq 'HASH';
    return $value ? 'true' : 'false' if JSON::PP::is_bool($value);
    return is_number($value) ? written_number($value) : quote($value);
}

sub quote {
    my ($text) = @_;
    return '"' . ($text =~ s/(["\\\x00-\x1f])/$escapes{$1} \/\/ sprintf '\u%04x', ord $1/ger) . '"';
}

# The decimal digits of a number, without its sign and without an exponent.
sub decimal_digits {
    my ($value) = @_;
    my $text = abs($value);
    $text = sprintf '%.20f', $value if $text =~ /e/i;
    $text =~ s/^-//;
    $text =~ s/\.?0+\z// if $text =~ /\./;
    return $text;
}

# A number as ECMAScript writes it: with an exponent from 1e21 and below 1e-6.
sub written_number {
    my ($value) = @_;
    my $minus = $value < 0 ? '-' : '';
    return $minus . decimal_digits($value) if $value == 0 || abs $value >= 1e-6 && abs $value < 1e21;
    my ($whole, $rest, $sign, $power) = sprintf('%.15e', abs $value) =~ /^(\d)\.(\d+)e([-+])0*(\d+)\z/;
    $rest =~ s/0+\z//;
    return $minus . $whole . ($rest eq '' ? '' : ".$rest") . "e$sign$power";
}

1;
