<?php

namespace Pestle\App\Console;

use Symfony\Component\Console\Output\OutputInterface;

/**
 * Where a command writes: a file, by whatever link leads to it; a pipe or a device, which takes what was made; or "-" for
 * standard output. A file that is there keeps its rights, a new one gets those of who calls.
 */
final readonly class OutFile
{
    private const OUTPUT = '-';
    /** Kinds of files as in stat(2). */
    private const KIND = 0o170000;
    private const PIPE = 0o010000;
    private const DEVICE = 0o020000;
    private const FOLDER = 0o040000;
    private const FILE = 0o100000;

    private function __construct(private string $wanted, private string $path, private bool $streams)
    {
    }

    /**
     * @param string $what names the kind of file, such as "FILE.wav"
     *
     * @throws WronglyAsked where nothing was said
     * @throws CannotWrite
     */
    public static function at(string $wanted, string $what): self
    {
        if ('' === $wanted) {
            throw new WronglyAsked(\sprintf('Say where to write with --out=%s, or --out=- for standard output.', $what));
        }
        if (self::OUTPUT === $wanted) {
            return new self($wanted, 'php://stdout', true);
        }
        $path = $wanted;
        // What a process has open is no name of anything.
        for ($links = 0; is_link($path) && !str_starts_with($path, '/proc/'); ++$links) {
            $to = (string) readlink($path);
            $path = str_starts_with($to, '/') ? $to : \dirname($path).'/'.$to;
            if ($links > 40) {
                throw CannotWrite::to($wanted, 'its links lead in a circle');
            }
        }
        if (preg_match('~^/proc/self/fd/(\d+)$~', $path, $m)) {
            return new self($wanted, 'php://fd/'.$m[1], true);
        }
        $kind = file_exists($path) ? (int) fileperms($path) & self::KIND : self::FILE;
        if (self::FOLDER === $kind) {
            throw CannotWrite::to($wanted, 'it is a folder; name a file in it');
        }
        if (!\in_array($kind, [self::FILE, self::PIPE, self::DEVICE], true)) {
            throw CannotWrite::to($wanted, 'it is neither a file nor a pipe');
        }
        if (self::FILE === $kind && !is_dir(\dirname($path))) {
            throw CannotWrite::to($wanted, 'its folder is not there');
        }

        return new self($wanted, $path, self::FILE !== $kind);
    }

    /** Says where it went; not in the midst of what went to standard output. */
    public function say(OutputInterface $output, string ...$more): void
    {
        if (!$this->streams) {
            $output->writeln([$this->wanted.array_shift($more), ...array_values($more)], OutputInterface::OUTPUT_RAW);
        }
    }

    /**
     * @template T
     *
     * @param \Closure(string): T $make writes a whole file to the path it is given
     *
     * @return T
     *
     * @throws CannotWrite
     */
    public function make(\Closure $make): mixed
    {
        $to = $this->streams ? (string) tempnam(sys_get_temp_dir(), 'pestle') : $this->path;
        $rights = $this->streams || !is_file($to) ? null : fileperms($to);
        try {
            $made = $make($to);
            if ($this->streams) {
                $this->pour($to);
            } else {
                self::share($to, $rights);
            }

            return $made;
        } catch (\RuntimeException $e) {
            throw is_writable(is_file($to) ? $to : \dirname($to)) ? $e : CannotWrite::to($this->wanted, 'check the folder and its rights');
        } finally {
            if ($this->streams) {
                @unlink($to);
            }
        }
    }

    /** Gives a file the rights that files get from who calls, or those it had. */
    public static function share(string $path, int|false|null $rights = null): void
    {
        $umask = $_SERVER['PESTLE_UMASK'] ?? 0o077;
        @chmod($path, \is_int($rights) ? $rights & 0o7777 : 0o666 & ~(\is_int($umask) ? $umask : 0o077));
    }

    private function pour(string $from): void
    {
        clearstatcache(true, $from);
        [$source, $target] = [fopen($from, 'r'), @fopen($this->path, 'w')];
        if (false === $source || false === $target || filesize($from) !== stream_copy_to_stream($source, $target)) {
            throw CannotWrite::to($this->wanted, 'nobody reads all of it');
        }
        fclose($target);
    }
}
