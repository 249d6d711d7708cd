#!/usr/bin/perl
# Starts attempts for an agent, cheaply: one small process forks each of them. It outlives the agent,
# keeps what its attempts come to, and ends when the agent is gone and its last attempt is over.
#
# $ARGV[0] is the agent's home; it tells this process from those of other agents. $ARGV[1] is the log
# of this process, a file that has its full length already, so that no full disk stops it. What follows
# are names of variables of the agent's own environment that work may have; all others stay here.
#
# In, on standard input: a length (4 bytes, big-endian), then fields that end with a NUL byte each:
#   name of the attempt, working directory, command, check before it (may be empty), user (may be
#   empty), then NAME=VALUE for each variable of the environment; one that begins with a byte 1 is a
#   secret: it is put into a file, and the variable holds the path of that.
# Out, on standard output: an empty line whenever the log has grown. The log's lines end with "!":
#   s PROCESS TICKS BOOT      this process itself: a process id alone may come again
#   c NAME                    nobody else may start it from now on
#   u NAME                    it was not started: another agent has taken over
#   f NAME REASON             it could not be started
#   g NAME GROUP MILLIS       it is at work, in a process group
#   k NAME CODE               the check before it ended it
#   e NAME CODE MILLIS SIGNAL LEFT   it is over; 0 where no signal ended it; 1 where some of its group is left
use strict;
use warnings;
use Fcntl ();
use POSIX ();
use IO::Handle ();

my %CLOCK_GETTIME = (x86_64 => 228, aarch64 => 113);    # numbers of the call, by machine

my ($home, $log_file, @pass_on) = @ARGV;
my %kept = map { $_ => 1 } qw(PATH LANG TZ TMPDIR HOME USER LOGNAME SHELL), @pass_on;
my $work_mask = oct($ENV{PURSER_WORK_UMASK} // '');
delete @ENV{grep { !$kept{$_} && !/^LC_/ } keys %ENV};
my $others_enter = (stat "$home/attempts")[2] & 1;    # as they must where work turns into other users
POSIX::setsid();
$SIG{$_} = 'IGNORE' for qw(PIPE HUP INT TERM);
my ($bell_out, $bell_in);
pipe($bell_out, $bell_in) or die "no pipe: $!";
$bell_in->blocking(0);
$bell_out->blocking(0);
$SIG{CHLD} = sub { syswrite $bell_in, '.' };
STDOUT->blocking(0);
my $clock = $CLOCK_GETTIME{(POSIX::uname())[4]};

# Its place in the file is shared with every process that is forked here: nobody writes over another.
sysopen my $log, $log_file, Fcntl::O_WRONLY() or die "no log $log_file: $!";
note("s $$ " . started_at() . ' ' . content('/proc/sys/kernel/random/boot_id'));

my %name_of;    # process id => attempt
my $buffer = '';
my $listening = 1;

while ($listening || %name_of) {
    my $wanted = '';
    vec($wanted, fileno(STDIN), 1) = 1 if $listening;
    vec($wanted, fileno($bell_out), 1) = 1;
    # A signal that comes just before the wait is seen after it: hence no long wait.
    my $found = select(my $ready = $wanted, undef, undef, %name_of ? 0.1 : 5);
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
    my ($name, @rest) = @_;
    # First the claim, then the look: an agent that takes over first forbids, then looks for claims.
    # So an attempt that it finds unclaimed is never started, whoever is killed when.
    note("c $name");
    if (-e "$log_file.closed" || !-e $log_file) {
        note("u $name");
        return;
    }
    my $pid = fork;
    if (!defined $pid) {
        note("f $name cannot start a process: $!");
        ring();
        return;
    }
    if ($pid == 0) {
        become($name, @rest);
    }
    $name_of{$pid} = $name;
}

# Only in the new process; never returns.
sub become {
    my ($name, $directory, $command, $check, $user, @environment) = @_;
    POSIX::setsid();
    note("g $name $$ " . millis());
    ring();
    $SIG{$_} = 'DEFAULT' for qw(PIPE HUP INT TERM CHLD);
    open STDIN, '<', '/dev/null';
    my $mask = umask 077;    # what work writes is for nobody else on this host
    if (!open STDOUT, '>>', "$home/attempts/$name.output") {
        note("f $name cannot write its output: $!");
        POSIX::_exit(126);
    }
    my @secrets = grep { s/^\x01// } @environment;    # which takes the mark off in the list, too
    my %secret = map { split /=/, $_, 2 } @secrets;
    my %given = map { split /=/, $_, 2 } @environment;
    for my $variable (keys %secret) {
        $given{$variable} = secret_file("$home/attempts/$name.secret-$variable", $secret{$variable}, $user);
        if (!$given{$variable}) {
            note("f $name cannot make a file for a secret: $!");
            POSIX::_exit(126);
        }
    }
    if ($others_enter && $user eq '') {
        open my $file, '>', $given{PURSER_VALUES} or print "cannot make the file of values: $!\n";
    }
    umask($work_mask || $mask);
    open STDERR, '>&', \*STDOUT;
    STDOUT->autoflush(1);
    if ($user ne '') {
        %given = (turn_into($user, $given{PURSER_VALUES}), %given);
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
            note("k $name $code");
            POSIX::_exit($code);
        }
    }
    { no warnings 'exec'; exec '/bin/sh', '-c', $command }
    print "cannot run the command: $!\n";
    POSIX::_exit(126);
}

# A file that only the user may read; gives its path, or nothing where it cannot be made.
sub secret_file {
    my ($path, $content, $user) = @_;
    unlink $path;
    sysopen(my $file, $path, Fcntl::O_WRONLY() | Fcntl::O_CREAT() | Fcntl::O_EXCL(), 0600) or return;
    print {$file} $content or return;
    close $file or return;
    my (undef, undef, $uid, $gid) = $user eq '' ? () : getpwnam $user;
    return if defined $uid && !chown $uid, $gid, $path;
    return $path;
}

# Another user: the file of values is theirs, and nothing else in the agent's home is.
sub turn_into {
    my ($name, $values) = @_;
    my (undef, undef, $uid, $gid, undef, undef, undef, $home_of, $shell) = getpwnam $name;
    if (!defined $uid) {
        print "there is no user $name on this host\n";
        POSIX::_exit(126);
    }
    my $mask = umask 077;
    open my $file, '>', $values or print "cannot make the file of values: $!\n";
    chown $uid, $gid, $values;
    umask $mask;
    my @groups = ($gid);
    setgrent();
    while (my (undef, undef, $id, $members) = getgrent()) {
        push @groups, $id if grep { $_ eq $name } split / /, $members;
    }
    $( = $gid;
    $) = join ' ', $gid, @groups;
    POSIX::setuid($uid);
    my %theirs = map { $_ => 1 } @groups;
    my ($real) = split / /, $(;
    my ($effective, @others) = split / /, $);
    if ($> != $uid || $< != $uid || $real != $gid || $effective != $gid || grep { !$theirs{$_} } @others) {
        print "cannot become user $name with their groups alone: $!\n";
        POSIX::_exit(126);
    }
    return (HOME => $home_of, USER => $name, LOGNAME => $name, SHELL => $shell);
}

sub reap {
    my $heard = 0;
    while ((my $pid = waitpid(-1, POSIX::WNOHANG())) > 0) {
        my $name = delete $name_of{$pid};
        next if !defined $name;
        my $signal = $? & 127;
        my $code = $signal ? 128 + $signal : $? >> 8;
        my $left = kill(0, -$pid) ? 1 : 0;    # its number stays taken while any of its group is there
        note("e $name $code " . millis() . " $signal $left");
        $heard = 1;
    }
    ring() if $heard;
}

# A line that does not fit now, on a file system that copies what it writes, is tried until it does.
sub note {
    my ($line) = @_;
    my $left = "$line!\n";
    while (length $left) {
        my $written = syswrite $log, $left;
        if (defined $written) {
            substr($left, 0, $written) = '';
        } else {
            select undef, undef, undef, 0.2;
        }
    }
}

# Where the pipe is full the agent has not read it for long; it reads the log by itself, too.
sub ring { syswrite STDOUT, "\n" }

# Milliseconds since 1970; whole seconds where the machine's call is not known here.
sub millis {
    my $time = pack 'qq', 0, 0;
    if (!defined $clock || syscall($clock, 0, $time) != 0) {
        return 1000 * time;
    }
    my ($seconds, $nanos) = unpack 'qq', $time;
    return 1000 * $seconds + int($nanos / 1_000_000);
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
