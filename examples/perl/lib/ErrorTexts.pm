# SPDX-License-Identifier: MIT
package ErrorTexts;

# Says violations in words from a pack of plain sentences.
# Written from docs/reference/packs.md; the numbers in the comments are its sections. Perl's own modules are all it needs.
use v5.30;
use warnings;
use utf8;
use Exporter         qw(import);
use JSON::PP         ();
use ErrorTexts::JSON qw(decimal_digits is_number read_json write_json);

# The first number is the version of the format that it reads.
our $VERSION   = '1.0.0';
our @EXPORT_OK = qw(entry_of open_pack print_path read_path said_or_none say_problem say_violation shown_path told_of);

my $json   = JSON::PP->new->allow_nonref;
my $mask   = '•••';
# The trees of each pack's forms.
my %trees;
my $rtl    = qr/[\x{590}-\x{8FF}\x{FB1D}-\x{FDFF}\x{FE70}-\x{FEFC}\x{10800}-\x{10FFF}\x{1E800}-\x{1EFFF}]/;
my $bare   = qr/[^.\[\]"'*\s\p{Cc}]+/;
my $sign   = qr/(?!$rtl)[^\p{L}\p{Nd}\p{Co}\s()]/;
my $breaks = qr/[\t-\r\x{85}\x{2028}\x{2029}]+/;
my $marks  = qr/[\p{Cc}\x{61C}\x{200E}\x{200F}\x{202A}-\x{202E}\x{2066}-\x{2069}]/;

# 2 Paths and patterns: a segment is [kind, value], kinds are index, name, element, key and depth.
sub read_path {
    my ($text) = @_;
    my @segments;
    while ($text =~ /\G(?:\[(\d+)\]|\[("(?:[^"\\]|\\.)*")\]|(\.\.)(?=.)|\.?($bare)|(\[\*\])|\.?\*)/gc) {
        push @segments,
              defined $1 ? ['index', $1]
            : defined $2 ? ['name', $json->decode($2)]
            : defined $3 ? ['depth', '']
            : defined $4 ? ['name', $4]
            :              [defined $5 ? 'element' : 'key', ''];
    }
    return @segments;
}

# A path as it is written (2).
sub print_path {
    my $text = '';
    for (@_) {
        my ($kind, $value) = @$_;
        if    ($kind eq 'index')      { $text .= "[$value]" }
        elsif ($value =~ /^$bare\z/) { $text .= ($text eq '' ? '' : '.') . $value }
        else                          { $text .= '[' . $json->encode($value) . ']' }
    }
    return $text;
}

# The fields of a form as a tree from the last segment to the first, so that a path takes no longer than it is deep.
sub tree_of {
    my %root;
    for my $key (@_) {
        my ($place, $path) = $key =~ /^(query|header|cookie|path):(.*)\z/s ? ($1, $2) : ('body', $key);
        my @pattern = read_path($path);
        my $node = $root{$place} //= {};
        $node = $node->{to}{"@$_"} //= {} for reverse @pattern;
        my ($depth) = grep { $pattern[$_][0] eq 'depth' } 0 .. $#pattern;
        my @open = grep { $pattern[$_][0] =~ /^(?:element|key)\z/ } 0 .. $#pattern;
        # Behind `..` places are counted from the end.
        $node->{end} = [$key, map { defined $depth && $_ > $depth ? $_ - @pattern : $_ } @open];
    }
    return \%root;
}

# The key and the open places of each field whose pattern matches, in the order of section 2.
sub matching {
    my ($node, @segments) = @_;
    my $deeper = $node->{to}{'depth '};
    my @deep   = $deeper ? map { [$deeper, @segments[0 .. $_ - 1]] } reverse 0 .. @segments : ();
    my $last   = pop @segments;
    my @kinds  = $last ? ("@$last", $last->[0] eq 'index' ? 'element ' : 'key ') : ();
    my @next   = map { [$_, @segments] } grep { defined } map { $node->{to}{$_} } @kinds;
    return (!$last && $node->{end} ? $node->{end} : (), map { matching(@$_) } @next, @deep);
}

# 4 Numbers.
sub number {
    my ($pack, $value) = @_;
    my $numbers = $pack->{numbers};
    my ($whole, $rest) = split /\./, decimal_digits($value);
    my ($last, $more) = @{ $numbers->{sizes} };
    $last = length $whole if length $whole < $last + $numbers->{least};
    my @groups;
    for (my $size = $last; $whole ne ''; $size = $more) {
        my $cut = length $whole > $size ? $size : length $whole;
        unshift @groups, substr $whole, -$cut;
        $whole = substr $whole, 0, length($whole) - $cut;
    }
    my $text = join($numbers->{group}, @groups) . (defined $rest ? $numbers->{decimal} . $rest : '');
    return ($value < 0 ? $numbers->{minus} : '') . in_digits($pack, $text);
}

sub in_digits {
    my ($pack, $text) = @_;
    my @digits = split //, $pack->{numbers}{digits};
    return $text =~ s/([0-9])/$digits[$1]/gr;
}

# The number that a value is, or that a text writes; else nothing.
sub numeric {
    my ($value) = @_;
    return $value if is_number($value) || !defined $value;
    return !ref $value && $value =~ /^-?[0-9]+(?:\.[0-9]+)?(?:e[-+]?[0-9]+)?\z/i ? 0 + $value : undef;
}

# A number with three decimals at the most, half to even.
sub rounded {
    my ($value) = @_;
    my (undef, $decimals) = split /\./, decimal_digits($value);
    return length($decimals // '') > 3 ? 0 + sprintf '%.3f', $value : $value;
}

# 4 Texts from a client.
sub as_text {
    my ($value, $hides) = @_;
    return defined $value && !ref $value && !is_number($value) ? $value : write_json($value, ' ', $hides);
}

# A list as the language joins it: with more than 20 entries the first ten.
sub joined {
    my ($pack, @entries) = @_;
    my $lists = $pack->{lists};
    my $put   = sub {
        my ($pattern, @two) = @_;
        return $lists->{$pattern} =~ s/\{([01])\}/$two[$1]/gr;
    };
    return join $lists->{mark}, @entries[0 .. 9], '… (' . in_digits($pack, scalar @entries) . ')' if @entries > 20;
    return $entries[0] // '' if @entries < 2;
    my $last = pop @entries;
    my $said = $put->(@entries > 1 ? 'end' : 'two', pop @entries, $last);
    while (defined(my $entry = pop @entries)) {
        $said = $put->(@entries ? 'middle' : 'start', $entry, $said);
    }
    return $said;
}

sub shown {
    my ($pack, $value) = @_;
    return joined($pack, map { isolated(shown($pack, as_text($_)), $pack->{direction} eq 'rtl') } @$value) if ref $value eq 'ARRAY';
    my $text = as_text($value);
    $text =~ s/$breaks/ /g;
    $text =~ s/$marks//g;
    my @letters = $text =~ /(\X)/g;
    return $text if @letters <= $pack->{longest};
    $text = join '', @letters[0 .. $pack->{longest} - 2];
    $text =~ s/\s+\z//;
    return "$text…";
}

# 5 Direction.
sub isolated {
    my ($text, $is_rtl) = @_;
    (my $rest = $text) =~ s/\x{2068}[^\x{2069}]*\x{2069}//g;
    my $against = $rest =~ $rtl;
    if ($is_rtl) {
        my $has_ltr = grep { $_ !~ $rtl } $rest =~ /(\p{L})/g;
        my $signed  = $rest =~ /\p{Nd}$sign|$sign\p{Nd}/;
        my $neutral = $rest eq $text && $text =~ /\P{Nd}/ && $text !~ /(?!\p{Nd})$rtl|\p{Co}/;
        $against = $has_ltr || $signed || $neutral;
    }
    return $against ? "\x{2068}$text\x{2069}" : $text;
}

# 3 Cases.
sub holds {
    my ($relation, $value) = @_;
    my ($whole, $rest) = split /\./, decimal_digits($value);
    $rest //= '';
    my %known = (n => abs $value, i => $whole, v => length $rest, w => length $rest, f => $rest || 0, t => $rest || 0, c => 0, e => 0);
    my ($operand, $modulus, $not, $list) = $relation =~ /^(\w)(?: % (\d+))? (!?)= (.+)\z/ or die $relation;
    my $n = $known{$operand};
    my $is_whole = $n == int $n;
    $n %= $modulus if defined $modulus && $is_whole;
    my $found = 0;
    for (split /,/, $list) {
        my ($low, $high) = split /\.\./;
        $found ||= $is_whole && $n >= $low && $n <= ($high // $low);
    }
    return $not ? !$found : $found;
}

sub category {
    my ($pack, $value) = @_;
    for my $name (keys %{ $pack->{plurals} }) {
        for my $either (split / or /, $pack->{plurals}{$name}) {
            return $name if !grep { !holds($_, $value) } split / and /, $either;
        }
    }
    return 'other';
}

sub chosen {
    my ($pack, $sentence, $told) = @_;
    my $cases = $sentence->{cases};
    return $cases->{ $told->{ $sentence->{select} } // '' } // $cases->{other} if exists $sentence->{select};
    my $value = $told->{ $sentence->{plural} } // die "missing\n";
    my $number = numeric($value) // return $cases->{other};
    my $exact  = '=' . ($number < 0 ? '-' : '') . decimal_digits($number);
    return $cases->{$exact} // $cases->{ category($pack, rounded($number)) } // $cases->{other};
}

sub said {
    my ($pack, $sentence, %told) = @_;
    return fill($pack, $sentence, {%told}) if ref $sentence ne 'HASH' || !exists $sentence->{sentence};
    return said({ %$pack, %{ $pack->{locales}{ $sentence->{locale} } } }, $sentence->{sentence}, %told);
}

# Nothing where the violation lacks an argument.
sub said_or_none {
    my ($pack, $sentence, %told) = @_;
    return undef if !defined $sentence;
    my $text = eval { said($pack, $sentence, %told) };
    die $@ if !defined $text && $@ ne "missing\n";
    return $text;
}

sub fill {
    my ($pack, $sentence, $told) = @_;
    my %shown = %$told;
    while (ref $sentence) {
        my $name = $sentence->{plural} // '';
        $sentence = chosen($pack, $sentence, $told);
        my $number = numeric($told->{$name});
        $shown{$name} = rounded($number) if defined $number;
    }
    $told = \%shown;
    my ($open, $close) = map { quotemeta } @{ $pack->{slot} };
    my ($text, $end) = ('', 0);
    # A per cent sign is doubled where slots begin with one.
    my $slot = $open =~ /^\\?%/ ? qr/%%|$open(\w+)$close/ : qr/$open(\w+)$close/;
    while ($sentence =~ /$slot/g) {
        my ($name, $from, $to) = ($1, $-[0], $+[0]);
        if (!defined $name) {
            $text .= substr($sentence, $end, $from - $end) . '%';
            $end = $to;
            next;
        }
        my $before = substr $sentence, 0, $from;
        my $inside = ($before =~ tr/\x{2068}//) > ($before =~ tr/\x{2069}//);
        my $base   = $name =~ s/_quoted\z//r;
        my $quoted = $base ne $name && !defined $told->{$name} && defined $told->{$base};
        my $value  = $quoted ? quoted($pack, $told->{$base}) : $told->{$name};
        my $is_rtl = ($pack->{direction} eq 'rtl') != $inside;
        my $said
            = !defined $value       ? die "missing\n"
            : is_number($value)     ? number($pack, $value)
            : $quoted               ? isolated($value, $is_rtl)
            :                         isolated(shown($pack, $value), $is_rtl);
        $text .= substr($sentence, $end, $from - $end) . $said;
        $end = $to;
    }
    return $text . substr $sentence, $end;
}

sub quoted {
    my ($pack, $value) = @_;
    my $text = isolated(shown($pack, ref $value eq 'ARRAY' ? shown($pack, $value) : $value), $pack->{direction} eq 'rtl');
    return $pack->{quoted} =~ s/\{text\}/$text/r;
}

# A parameter, with a truth value as a `select` asks for it.
sub yes_or_no {
    my ($value) = @_;
    return JSON::PP::is_bool($value) ? $value ? 'yes' : 'no' : $value;
}

# 2 Which sentence.

# The fields that a violation may be of, in order: each with its key and its open places.
sub fields_of {
    my ($pack, $form, $violation, @more) = @_;
    my $fields = $pack->{fields}{$form} // die "there is no form \"$form\" in the pack\n";
    my $tree   = $trees{$pack}{$form} //= tree_of(keys %$fields);
    return matching($tree->{ $violation->{in} // 'body' }, read_path($violation->{path}), @more);
}

sub code_of { return $_[0]{as} // $_[0]{rule} }

# The arguments of a violation.
sub told_of {
    my ($pack, $form, $violation) = @_;
    my $fields  = $pack->{fields}{$form};
    my %told    = map { ($_ => yes_or_no($violation->{params}{$_})) } keys %{ $violation->{params} // {} };
    my $secrets = $pack->{secrets}{$form};
    my $hides   = $secrets && sub {
        my ($kind, $name) = @{ $_[-1] };
        return 1 if $kind eq 'name' && grep { $_ eq $name } @$secrets;
        return grep { $fields->{ $_->[0] }{secret} } fields_of($pack, $form, $violation, @_);
    };
    my ($first) = fields_of($pack, $form, $violation);
    my ($key, @open) = @{ $first // [] };
    my $field = defined $key ? $fields->{$key} : {};
    $told{value} = as_text($violation->{value}, $hides) if exists $violation->{value};
    if ($field->{secret}) { $told{$_} = $mask for grep { exists $told{$_} } qw(value name) }
    my @names    = @{ $field->{positions} // [] };
    my @segments = read_path($violation->{path});
    for my $at (@open) {
        my ($kind, $value) = @{ $segments[$at] };
        $told{ shift @names } //= $kind eq 'index' ? $value + 1 : $value;
    }
    return %told;
}

# The path of a violation as it may be shown, with the name of the member that it is about, where there is one (6).
sub shown_path {
    my ($pack, $form, $violation, $name) = @_;
    my ($first) = fields_of($pack, $form, $violation);
    my $field = $first ? $pack->{fields}{$form}{ $first->[0] } : {};
    my @path  = read_path($violation->{path});
    splice @path, -$field->{hidden} if $field->{hidden};
    return defined $name ? (@path, ['name', $field->{secret} ? $mask : $name]) : @path;
}

# The sentence of a violation, and the text for beside the input where there is one.
sub say_violation {
    my ($pack, $form, $violation) = @_;
    my $code = code_of($violation);
    my ($text, $inline, $otherwise);
    for (fields_of($pack, $form, $violation)) {
        my ($key) = @$_;
        next if defined $text && defined $otherwise;
        $inline = $pack->{inlines}{$form}{$key}{$code} if !defined $text;
        $text      //= $pack->{forms}{$form}{$key}{$code};
        $otherwise //= $pack->{fields}{$form}{$key}{otherwise};
    }
    my %told    = told_of($pack, $form, $violation);
    my @texts   = ref $text eq 'ARRAY'   ? @$text   : $text;
    my @inlines = ref $inline eq 'ARRAY' ? @$inline : $inline;
    for my $at (0 .. $#texts) {
        my $said   = said_or_none($pack, $texts[$at], %told) // next;
        my $beside = said_or_none($pack, $inlines[$at], %told);
        return $said, defined $beside && length $beside ? $beside : undef;
    }
    return said_or_none($pack, $otherwise, %told) // $code, undef;
}

# The entry of `becomes` for a violation, where there is one (6).
sub entry_of {
    my ($pack, $form, $violation) = @_;
    for (fields_of($pack, $form, $violation)) {
        my $found = $pack->{becomes}{$form}{ $_->[0] };
        return $found->{ code_of($violation) } if $found && $found->{ code_of($violation) };
    }
    return undef;
}

# Title and detail of a problem.
sub say_problem {
    my ($pack, $name, $params) = @_;
    my %told = (
        located => (defined $params->{line} && defined $params->{column} ? 'yes' : 'no'),
        timed   => (defined $params->{seconds} ? 'yes' : 'no'),
        %$params,
    );
    my $problem = $pack->{problems}{$name};
    return said_or_none($pack, $problem->{title}, %told) // $problem->{phrase}, said_or_none($pack, $problem->{detail}, %told) // '';
}

# Reads the pack of a file.
sub open_pack {
    my ($file) = @_;
    open my $in, '<:encoding(UTF-8)', $file or die "$file: $!\n";
    my $pack = read_json(do { local $/; <$in> });
    die "$file: this is not a pack of sentences of version 1\n" if ($pack->{sentences} // 0) != 1;
    return $pack;
}

1;
