#!/usr/bin/perl
# Starts attempts for an agent, cheaply: one small process forks each of them. It outlives the agent,
# keeps what its attempts come to, and ends when the agent is gone and its last attempt is over.
#
# In, on standard input: a length (4 bytes, big-endian), then fields that end with a NUL byte each:
#   folder of the attempt, working directory, command, check before it (may be empty), user (may be
#   empty), then NAME=VALUE for each variable of the environment.
# Out, on standard output, a line each:
#   began FOLDER PROCESS · ended FOLDER CODE · failed FOLDER REASON (it was never started)
# $ARGV[0] is the agent's home; it tells this process from those of other agents.
use strict;
use warnings;
use POSIX ();
use IO::Handle ();

POSIX::setsid();
$SIG{$_} = 'IGNORE' for qw(PIPE HUP INT TERM);
my ($bell_out, $bell_in);
pipe($bell_out, $bell_in) or die "no pipe: $!";
$bell_in->blocking(0);
$bell_out->blocking(0);
$SIG{CHLD} = sub { syswrite $bell_in, '.' };
STDOUT->autoflush(1);

# Who supervises: a process id alone may come again, after a restart of the host above all.
my $me = "$$ " . started_at() . ' ' . content('/proc/sys/kernel/random/boot_id');
my %folder_of;    # process id => folder
my $buffer = '';
my $listening = 1;

while ($listening || %folder_of) {
    my $wanted = '';
    vec($wanted, fileno(STDIN), 1) = 1 if $listening;
    vec($wanted, fileno($bell_out), 1) = 1;
    # A signal that comes just before the wait is seen after it: hence no long wait.
    my $found = select(my $ready = $wanted, undef, undef, %folder_of ? 0.1 : 5);
    if ($found > 0 && vec($ready, fileno($bell_out), 1)) {
        sysread $bell_out, my $rung, 4096;
    }
    reap();
    if ($found > 0 && $listening && vec($ready, fileno(STDIN), 1)) {
        my $got = sysread STDIN, $buffer, 262_144, length $buffer;
        $listening = 0 if defined $got && $got == 0;
        take();
    }
}

sub take {
    while (length $buffer >= 4) {
        my $length = unpack 'N', $buffer;
        return if length $buffer < 4 + $length;
        my @fields = split /\0/, substr($buffer, 4, $length), -1;
        pop @fields;    # what follows the last NUL: nothing
        substr($buffer, 0, 4 + $length) = '';
        start(@fields);
    }
}

sub start {
    my ($folder, $directory, $command, $check, $user, @environment) = @_;
    spill("$folder/supervisor", $me);
    # Whoever makes this directory first decides: the starter that the attempt starts, or an agent
    # that came back that it never did. So it starts at most once, whoever is killed when.
    return if !mkdir "$folder/claim";
    my $pid = fork;
    if (!defined $pid) {
        print "failed $folder cannot start a process: $!\n";
        return;
    }
    if ($pid == 0) {
        become($folder, $directory, $command, $check, $user, @environment);
    }
    $folder_of{$pid} = $folder;
    print "began $folder $pid\n";
}

# Only in the new process; never returns.
sub become {
    my ($folder, $directory, $command, $check, $user, @environment) = @_;
    $SIG{$_} = 'DEFAULT' for qw(PIPE HUP INT TERM CHLD);
    POSIX::setsid();
    spill("$folder/group", $$);
    open STDIN, '<', '/dev/null';
    open STDOUT, '>>', "$folder/output" or POSIX::_exit(126);
    open STDERR, '>&', \*STDOUT;
    STDOUT->autoflush(1);
    open my $checked, '>', "$folder/checked";
    $checked->autoflush(1);
    my %given = map { split /=/, $_, 2 } @environment;
    if ($user ne '') {
        %given = (turn_into($user, "$folder/values"), %given);
    }
    @ENV{keys %given} = values %given;
    if (!chdir $directory) {
        print "cannot enter the directory $directory: $!\n";
        POSIX::_exit(126);
    }
    if ($check ne '') {
        # system() would wait for a child of which the parent's handler knows nothing: none is set here.
        my $status = system '/bin/sh', '-c', $check;
        my $code = $status == -1 ? 127 : $status & 127 ? 128 + ($status & 127) : $status >> 8;
        if ($code != 0) {
            print $checked "$code\n";
            POSIX::_exit($code);
        }
    }
    { no warnings 'exec'; exec '/bin/sh', '-c', $command }
    print "cannot run the command: $!\n";
    POSIX::_exit(126);
}

# Another user: the file of values is theirs, and nothing else of the folder is.
sub turn_into {
    my ($name, $values) = @_;
    my (undef, undef, $uid, $gid, undef, undef, undef, $home, $shell) = getpwnam $name;
    if (!defined $uid) {
        print "there is no user $name on this host\n";
        POSIX::_exit(126);
    }
    spill($values, '');
    chown $uid, $gid, $values;
    my @groups = ($gid);
    setgrent();
    while (my (undef, undef, $id, $members) = getgrent()) {
        push @groups, $id if grep { $_ eq $name } split / /, $members;
    }
    $( = $gid;
    $) = join ' ', $gid, @groups;
    POSIX::setuid($uid);
    if ($> != $uid || $< != $uid) {
        print "cannot become user $name: $!\n";
        POSIX::_exit(126);
    }
    return (HOME => $home, USER => $name, LOGNAME => $name, SHELL => $shell);
}

sub reap {
    while ((my $pid = waitpid(-1, POSIX::WNOHANG())) > 0) {
        my $folder = delete $folder_of{$pid};
        next if !defined $folder;
        my $code = $? & 127 ? 128 + ($? & 127) : $? >> 8;
        spill("$folder/exit", $code);
        print "ended $folder $code\n";
    }
}

# Whole or not at all. A full disk must not lose an exit code: it is tried until there is room.
sub spill {
    my ($file, $text) = @_;
    while (1) {
        if (open my $out, '>', "$file.new") {
            my $written = print {$out} "$text\n";
            if (close($out) && $written && rename "$file.new", $file) {
                return;
            }
        }
        return if !-d substr($file, 0, rindex($file, '/'));
        select undef, undef, undef, 0.5;
    }
}

sub content {
    my ($file) = @_;
    open my $in, '<', $file or return '?';
    my $text = <$in>;
    chomp $text;
    return $text;
}

# Ticks after the host's start at which this process began: field 22 of proc(5) stat.
sub started_at {
    my $stat = content("/proc/$$/stat");
    my @fields = split / /, substr($stat, rindex($stat, ')') + 2);
    return $fields[19];
}
