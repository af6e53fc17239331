# SPDX-License-Identifier: MIT
package ErrorTexts::Bodies;

# Answers, and their bodies in every shape of a pack (section 6).
use v5.30;
use warnings;
use utf8;
use Encode           ();
use Exporter         qw(import);
use List::Util       qw(any first uniq);
use ErrorTexts       qw(entry_of print_path read_path said_or_none say_problem say_violation shown_path told_of);
use ErrorTexts::JSON qw(is_number write_json);

our @EXPORT_OK = qw(body fields_answer problem_answer);

my $of_members = qr/^(?:additionalProperties|unevaluatedProperties|propertyNames)\z/;
my $alone      = qr/^(?:401|403|404|405|410)\z/;
my $slot       = qr/<([a-z][a-z-]*)(?:\("([^"]*)"\))?>/;
my $xml_type   = 'application/problem+xml';
my $no_xml     = qr/[\x{0}-\x{8}\x{b}\x{c}\x{e}-\x{1f}\x{fffe}\x{ffff}]/;
my %entities   = ('&' => '&amp;', '<' => '&lt;', '>' => '&gt;', '"' => '&quot;', q(') => '&#39;');

# The answer of a problem of the whole request.
sub problem_answer {
    my ($pack, $name, $params) = @_;
    my ($title, $detail) = say_problem($pack, $name, $params // {});
    my $about = $pack->{problems}{$name};
    return {
        problem => $name, type => $about->{type}, status => $about->{status}, title => $title, detail => $detail,
        locale => $pack->{locale}, direction => $pack->{direction}, more => 0, broken => [],
    };
}

# The answer to a request that broke rules; the violations come in the order of the document.
sub fields_answer {
    my ($pack, $form, @violations) = @_;
    my $settings = $pack->{settings};
    my $whole    = whole_problem($pack, $form, @violations);
    return $whole if $whole;
    my @all = map { broken($pack, $form, $_) } @violations;
    my %seen;
    my @first    = grep { !$seen{"$_->{in} $_->{place}"}++ } @all;
    my @kept     = $settings->{perField} eq 'all' ? @all : @first;
    my $is_alone = $settings->{detail} eq 'first';
    my $most     = $is_alone ? 1 : $settings->{maxViolations};
    my @told     = @kept > $most ? @kept[0 .. $most - 1] : @kept;
    my %counts   = $is_alone ? (count => 1, fields => 1) : (count => scalar @kept, fields => scalar @first);
    my $answer   = problem_answer($pack, 'invalid-fields', \%counts);
    $answer->{detail} = join $settings->{separator}, map { $_->{text} } @told if $settings->{detail} ne 'own';
    return { %$answer, broken => \@told, more => $is_alone ? 0 : @kept - @told };
}

# The problem that a broken rule is, where that is the answer: alone, or where all that is broken is one.
sub whole_problem {
    my ($pack, $form, @violations) = @_;
    return undef if !$pack->{becomes}{$form};
    my @entries = map { [$_, entry_of($pack, $form, $_)] } @violations;
    my @found   = grep { $_->[1] } @entries;
    my $chosen  = (first { $pack->{problems}{ $_->[1]{problem} }{status} =~ $alone } @found) // (@found == @entries ? $found[0] : undef);
    return undef if !$chosen;
    my ($violation, $entry) = @$chosen;
    my %told = told_of($pack, $form, $violation);
    my $answer = problem_answer($pack, $entry->{problem}, \%told);
    $answer->{$_} = said_or_none($pack, $entry->{$_}, %told) // $answer->{$_} for qw(title detail);
    return $answer;
}

sub broken {
    my ($pack, $form, $violation) = @_;
    my ($text, $inline) = say_violation($pack, $form, $violation);
    my ($rule, $part) = ($violation->{rule}, $violation->{in} // 'body');
    my $params = $violation->{params} // {};
    my $name   = $params->{name};
    my $of     = $rule =~ $of_members && defined $name && !ref $name && !is_number($name) ? $name : undef;
    my @path   = shown_path($pack, $form, $violation, $of);
    my $members = $rule =~ /^(?:atLeastOne|exactlyOne)\z/ ? $params->{members} : undef;
    return {
        path => \@path, in => $part, code => $violation->{as} // $rule, text => $text,
        place  => $part eq 'body' ? fragment(@path) : join('.', map { $_->[1] } @path),
        inline => is_on($pack->{settings}{inline}) ? $inline : undef,
        lacks  => $rule =~ /^(?:required|dependentRequired)\z/ ? 1 : 0,
        members => $members && [map { [@path, read_path($_)] } @$members],
    };
}

# Whether texts beside the inputs are asked for: the setting is true, false, or a text.
sub is_on { return $_[0] && $_[0] ne '0' }

sub pointer { return join '', map { '/' . ($_->[1] =~ s/~/~0/gr =~ s{/}{~1}gr) } @_ }

# A JSON Pointer as a URI fragment (RFC 6901 section 6).
sub fragment {
    return '#' . pointer(@_) =~ s{([^A-Za-z0-9\-._~!\$&'()*+,;=:@/])}{join '', map { sprintf '%%%02X', ord } split //, Encode::encode('UTF-8', $1)}ger;
}

# A path as JSON has it.
sub segments { return [map { $_->[0] eq 'index' ? 0 + $_->[1] : $_->[1] } @_] }

# The media type and the text of an answer in a shape; in that of the settings where none is named.
sub body {
    my ($pack, $answer, $name) = @_;
    my $settings = $pack->{settings};
    my $shape    = $settings->{shapes}{ $name // $settings->{shape} };
    my $media    = $shape->{mediaType};
    my $self     = { prefix => $settings->{prefix}, answer => $answer, markup => $media ne $xml_type && $media =~ /html|xml/ ? 1 : 0 };
    my $value    = fill($self, $shape->{body});
    if ($media eq $xml_type) {
        my $inside = join '', map { xml($_, $value->{$_}) } keys %$value;
        my $head = qq(<?xml version="1.0" encoding="UTF-8"?>\n<problem xmlns="urn:ietf:rfc:7807" xml:lang="$answer->{locale}">);
        return $media, "$head$inside</problem>";
    }
    return $media, ref $value || is_number($value) || $media =~ /json/ ? write_json($value) : $value;
}

# What a node says; what is undefined is left out of objects.
sub fill {
    my ($self, $node, @at) = @_;
    return [map { scalar fill($self, $_, @at) } @$node] if ref $node eq 'ARRAY';
    return object($self, $node, @at) if ref $node eq 'HASH';
    return defined $node && !ref $node && !is_number($node) ? text($self, $node, @at) : $node;
}

sub object {
    my ($self, $node, @at) = @_;
    my @keys = keys %$node;
    return each_of($self, $node, @at) if exists $node->{each};
    return fill($self, $node->{ is_full(slot($self, $node->{when}, @at)) ? 'node' : 'otherwise' }, @at)
        if exists $node->{when} && exists $node->{node};
    return join_of($self, $node, @at) if ref $node->{join} eq 'ARRAY' && !grep { !/^(?:join|with)\z/ } @keys;
    if ("@keys" eq 'unless-empty') {
        my $value = fill($self, $node->{'unless-empty'}, @at);
        return is_full($value) ? $value : undef;
    }
    my $made = ErrorTexts::JSON::ordered();
    for my $key (@keys) {
        my $value = fill($self, $node->{$key}, @at);
        if    ($key eq '...') { $made->{$_} = $value->{$_} for keys %{ $value // {} } }
        elsif (defined $value || !defined $node->{$key}) { $made->{$key} = $value }
    }
    return $made;
}

sub is_full {
    my ($value) = @_;
    return 0 if !defined $value;
    return ref $value eq 'ARRAY' ? scalar @$value : ref $value eq 'HASH' ? scalar keys %$value : is_number($value) ? $value != 0 : "$value" ne '' && "$value" ne '0';
}

sub grouped {
    my ($self) = @_;
    my (%groups, @order);
    for my $one (@{ $self->{answer}{broken} }) {
        my $key = "$one->{in} " . print_path(@{ $one->{path} });
        push @order, $key if !$groups{$key};
        push @{ $groups{$key} }, $one;
    }
    return map { $groups{$_} } @order;
}

sub each_of {
    my ($self, $node) = @_;
    my $kind   = $node->{each};
    my @groups = $kind eq 'violation' ? map { [$_] } @{ $self->{answer}{broken} } : grouped($self);
    @groups = grep { ($_->[0]{in} eq 'body') == ($kind eq 'body-field') } @groups if $kind =~ /^(?:body|other)-field\z/;
    my @places = map { [$kind ne 'violation', $_] } @groups;
    return [map { scalar fill($self, $node->{node}, @$_) } @places] if !exists $node->{key};
    my $made = ErrorTexts::JSON::ordered();
    for my $at (@places) {
        my $value = fill($self, $node->{node}, @$at);
        $made->{ shown(text($self, $node->{key}, @$at)) } = $value if defined $value;
    }
    return $made;
}

sub join_of {
    my ($self, $node, @at) = @_;
    my @parts = map { my $value = fill($self, $_, @at); ref $value eq 'ARRAY' ? @$value : $value } @{ $node->{join} };
    @parts = grep { defined && (ref || is_number($_) || $_ ne '') } @parts;
    return exists $node->{with} ? join $node->{with}, map { shown($_) } @parts : \@parts;
}

sub shown {
    my ($value) = @_;
    return !defined $value ? '' : ref $value || is_number($value) ? write_json($value) : $value;
}

sub marked {
    my ($self, $value) = @_;
    return $self->{markup} && defined $value && !ref $value ? $value =~ s/([&<>"'])/$entities{$1}/gr : $value;
}

sub text {
    my ($self, $text, @at) = @_;
    if ($text =~ /\A$slot\z/ && !defined $2 && is_slot($1)) {
        my $value = slot($self, $1, @at);
        return ref $value eq 'ARRAY' ? [map { marked($self, $_) } @$value] : is_number($value) ? $value : marked($self, $value);
    }
    return $text =~ s{$slot}{
        my ($found, $name, $separator) = ($&, $1, $2);
        my $value = is_slot($name) ? slot($self, $name, @at) : undef;
        !is_slot($name) ? $found
            : defined $separator && ref $value eq 'ARRAY' ? join $separator, map { marked($self, shown($_)) } @$value
            :                                               marked($self, shown($value));
    }ger;
}

my %of_answer = (
    (map { my $name = $_; ($name => sub { $_[0]{answer}{$name} }) }
        qw(title status type problem instance locale direction time address more extensions request-id trace-id details)),
    detail => sub { my ($self) = @_; $self->{answer}{detail} eq '' ? undef : $self->{answer}{detail} },
    uri    => sub { my ($self) = @_; $self->{answer}{type} eq 'about:blank' ? undef : $self->{answer}{type} },
    count  => sub { my ($self) = @_; @{ $self->{answer}{broken} } + $self->{answer}{more} },
    fields => sub { my ($self) = @_; [map { print_path(@{ $_->[0]{path} }) } grouped($self)] },
    texts  => sub { my ($self) = @_; [map { $_->{text} } @{ $self->{answer}{broken} }] },
    broken => sub { my ($self) = @_; $self->{answer}{problem} eq 'invalid-fields' ? JSON::PP::true : undef },
);

my %of_violation = (
    field     => sub { print_path(@{ $_[1]{path} }) },
    path      => sub { segments(@{ $_[1]{path} }) },
    pointer   => sub { $_[1]{in} eq 'body' ? pointer(@{ $_[1]{path} }) : $_[1]{place} },
    place     => sub { $_[1]{place} },
    fragment  => sub { $_[1]{in} eq 'body' ? $_[1]{place} : undef },
    header    => sub { $_[1]{in} eq 'header' ? $_[1]{place} : undef },
    parameter => sub { $_[1]{in} =~ /^(?:body|header)\z/ ? undef : $_[1]{place} },
    in        => sub { $_[1]{in} },
    part      => sub { $_[1]{in} eq 'body' ? undef : $_[1]{in} },
    code      => sub { $_[1]{code} },
    text      => sub { $_[1]{text} },
    inline    => sub { $_[1]{inline} // $_[1]{text} },
    beside    => sub { $_[1]{inline} },
    developer => sub { undef },
    members            => sub { members($_[1], sub { pointer(@_) }) },
    'member-fragments' => sub { members($_[1], sub { fragment(@_) }) },
    'member-fields'    => sub { members($_[1], sub { print_path(@_) }) },
    'member-paths'     => sub { members($_[1], sub { segments(@_) }) },
    'member-pointers'  => sub { my ($self, $one) = @_; members($one, sub { $self->{prefix} . pointer(@_) }) },
    nearest => sub { my ($self, $one) = @_; $one->{in} eq 'body' ? $self->{prefix} . pointer(present($self, $one)) : undef },
    missing => sub { my ($self, $one) = @_; $one->{in} eq 'body' && $one->{lacks} && @{ $one->{path} } ? $self->{prefix} . pointer(@{ $one->{path} }) : undef },
);

my %of_field = (
    (map { my $name = $_; ($name => sub { $of_violation{$name}->($_[0], $_[1][0]) }) } qw(field pointer in)),
    texts  => sub { [map { $_->{text} } @{ $_[1] }] },
    text   => sub { join ' ', map { $_->{text} } @{ $_[1] } },
    inlines => sub { [map { $_->{inline} // $_->{text} } @{ $_[1] }] },
    beside => sub { first { defined } map { $_->{inline} } @{ $_[1] } },
    codes  => sub { [map { $_->{code} } @{ $_[1] }] },
);

sub is_slot { return $of_answer{ $_[0] } || $of_field{ $_[0] } || $of_violation{ $_[0] } }

sub slot {
    my ($self, $name, $by_field, $here) = @_;
    my $how = $here && ($by_field ? $of_field{$name} : $of_violation{$name});
    my $own = $how && $how->($self, $by_field ? $here : $here->[0]);
    return $own // ($of_answer{$name} && $of_answer{$name}->($self));
}

sub members {
    my ($one, $write) = @_;
    return $one->{members} && [map { $write->(@$_) } @{ $one->{members} }];
}

# The nearest place around a path that is in the request: what is missing is not.
sub present {
    my ($self, $one) = @_;
    my %lacking = map { $_->{lacks} && $_->{in} eq 'body' ? (pointer(@{ $_->{path} }) => 1) : () } @{ $self->{answer}{broken} };
    my @path = @{ $one->{path} };
    pop @path while $one->{lacks} && @path && $lacking{ pointer(@path) };
    return @path;
}

# RFC 9457 appendix B: members are elements, the entries of a list are `i`.
sub xml {
    my ($name, $value) = @_;
    return '' if !defined $value;
    my $inside
        = ref $value eq 'ARRAY' ? join '', map { xml('i', $_) } @$value
        : ref $value eq 'HASH'  ? join '', map { xml(/\A[A-Za-z_][A-Za-z0-9_.-]*\z/ ? $_ : 'member', $value->{$_}) } keys %$value
        :                         shown($value) =~ s/([&<>"])/$entities{$1}/gr =~ s/$no_xml//gr;
    return "<$name>$inside</$name>";
}

1;
