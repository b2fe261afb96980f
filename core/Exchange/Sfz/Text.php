<?php

namespace Pestle\Core\Exchange\Sfz;

/**
 * SFZ as text: comments, #define and #include, headers, and opcodes that headers hand down. Gives the regions, each with
 * all that holds for it.
 *
 * Source: the open SFZ format as described at sfzformat.com (headers and opcodes of versions 1 and 2).
 */
final class Text
{
    public const MOST_BYTES = 8_000_000;
    private const MOST_FILES = 200;
    private const MOST_DEPTH = 16;
    public const MOST_REGIONS = 20_000;
    /** Of all regions together, with what is handed down to them. */
    private const MOST_OPCODES = 1_500_000;
    private const LONGEST_DEFINED = 1000;
    private const LEVELS = ['control' => 0, 'global' => 0, 'master' => 1, 'group' => 2, 'region' => 3];
    /** Opcodes of <control> that say something of the regions behind it. */
    private const OF_REGIONS = ['default_path' => 1, 'note_offset' => 1, 'octave_offset' => 1];
    /** Opcodes whose value goes on to the end of the line, spaces and all. */
    private const LONG = ['sample', 'default_path', 'region_label', 'group_label', 'master_label', 'global_label', 'image'];

    private int $bytes = 0;
    private int $opcodes = 0;
    private int $files = 0;
    /** @var array<string, string> by name, with its dollar sign */
    private array $defined = [];
    /** @var array<string, true> */
    public array $unknownHeaders = [];
    /** @var array<string, string> */
    public array $control = [];

    /** @param \Closure(string): (string|null) $open text of a file beside the first one, by its path; null when there is none */
    private function __construct(private readonly string $name, private readonly \Closure $open)
    {
    }

    /**
     * @param \Closure(string): (string|null) $open
     *
     * @return array{list<array<string, string>>, self} opcodes of every region, in order, and what was found on the way
     *
     * @throws Unreadable
     */
    public static function regions(string $name, \Closure $open): array
    {
        $text = new self($name, $open);
        $lines = $text->lines($name, 0);
        if (!preg_match('/<\s*\w+\s*>/', $lines)) {
            throw new Unreadable(\sprintf('%s holds no <region>: this is no SFZ file.', $name));
        }

        return [$text->parsed($lines), $text];
    }

    /** A file without comments, with what it includes in its place. */
    private function lines(string $path, int $depth): string
    {
        if ($depth > self::MOST_DEPTH || ++$this->files > self::MOST_FILES) {
            throw new Unreadable(\sprintf('%s includes files that include one another without end: the last was %s.', $this->name, $path));
        }
        $text = ($this->open)($path) ?? throw new Unreadable(0 === $depth ? \sprintf('%s is not there.', $path) : \sprintf('%s includes %s, which is not there: put it beside it.', $this->name, $path));
        $this->grow(\strlen($text));
        if (str_contains($text, "\0")) {
            throw new Unreadable(\sprintf('%s is no text: this is no SFZ file.', $path));
        }
        $text = mb_check_encoding($text, 'UTF-8') ? $text : mb_convert_encoding($text, 'UTF-8', 'ISO-8859-1');
        $text = str_replace(["\r\n", "\r", "\u{FEFF}"], ["\n", "\n", ''], $text);
        $text = (string) preg_replace('~/\*.*?(?:\*/|\z)~s', ' ', $text);
        $out = '';
        foreach (explode("\n", $text) as $line) {
            // A comment begins with two slashes, but not within a path such as "kit//kick.wav".
            $line = trim((string) preg_replace('~(?:^|(?<=\s))//.*$~', '', $line));
            if (preg_match('/^#include\s+"([^"]*)"/', $line, $m)) {
                $out .= $this->lines(self::cleaned($this->replaced($m[1])), $depth + 1)."\n";
            } elseif (str_starts_with($line, '#define')) {
                // Several may stand on one line.
                preg_match_all('/#define\s+(\$\w+)\s+(\S+)/', $line, $all, \PREG_SET_ORDER);
                foreach ($all as [, $defined, $value]) {
                    $this->define($defined, $this->replaced($value));
                }
            } elseif ('' !== $line) {
                $out .= $this->replaced($line)."\n";
            }
        }

        return $out;
    }

    /** What is included or put in the place of a name counts as often as it stands there. */
    private function grow(int $bytes): void
    {
        $this->bytes += $bytes;
        if ($this->bytes > self::MOST_BYTES) {
            throw new Unreadable(\sprintf('%s is too long for an SFZ file (more than %d MB of text).', $this->name, intdiv(self::MOST_BYTES, 1_000_000)));
        }
    }

    private function define(string $name, string $value): void
    {
        if (\strlen($value) > self::LONGEST_DEFINED) {
            throw new Unreadable(\sprintf('%s defines %s with more than %s characters.', $this->name, $name, number_format(self::LONGEST_DEFINED)));
        }
        $this->defined[$name] = $value;
    }

    /** With what was defined in the place of its names; of names that begin alike the longest counts, as strtr has it. */
    private function replaced(string $line): string
    {
        if (!str_contains($line, '$') || [] === $this->defined) {
            return $line;
        }
        $replaced = strtr($line, $this->defined);
        $this->grow(max(0, \strlen($replaced) - \strlen($line)));

        return $replaced;
    }

    /** A path with forward slashes, without "." and without ".." but for those it begins with. */
    public static function cleaned(string $path): string
    {
        $parts = [];
        foreach (explode('/', strtr($path, '\\', '/')) as $part) {
            if ('..' === $part && [] !== $parts && '..' !== end($parts)) {
                array_pop($parts);
            } elseif ('' !== $part && '.' !== $part) {
                $parts[] = $part;
            }
        }

        return implode('/', $parts);
    }

    /** @return list<array<string, string>> */
    private function parsed(string $text): array
    {
        $levels = [[], [], [], []];
        $level = 0;
        $regions = [];
        $open = false;
        foreach (preg_split('/<\s*(\w+)\s*>/', $text, -1, \PREG_SPLIT_DELIM_CAPTURE) ?: [] as $i => $part) {
            if (1 === $i % 2) {
                $header = strtolower($part);
                if ($open) {
                    $regions[] = $this->region($levels);
                    $open = false;
                }
                $level = self::LEVELS[$header] ?? -1;
                if ($level < 0) {
                    $this->unknownHeaders[$header] = true;
                    continue;
                }
                // A new one begins empty, and so do those below it.
                for ($k = $level; $k < 4; ++$k) {
                    $levels[$k] = 'control' === $header ? $levels[$k] : [];
                }
                $open = 'region' === $header;
                $isControl = 'control' === $header;
                if (\count($regions) > self::MOST_REGIONS) {
                    throw new Unreadable(\sprintf('%s holds more than %s regions.', $this->name, number_format(self::MOST_REGIONS)));
                }
            } elseif ($i > 0 && $level >= 0) {
                $opcodes = self::opcodes($part);
                if ($isControl ?? false) {
                    $this->control = [...$this->control, ...$opcodes];
                } else {
                    $levels[$level] = [...$levels[$level], ...$opcodes];
                }
            }
        }
        if ($open) {
            $regions[] = $this->region($levels);
        }

        return $regions;
    }

    /**
     * @param list<array<string, string>> $levels
     *
     * @return array<string, string>
     */
    private function region(array $levels): array
    {
        // Of the headers <control> the last before it counts for a region.
        $opcodes = array_merge(array_intersect_key($this->control, self::OF_REGIONS), ...$levels);
        if (($this->opcodes += \count($opcodes)) > self::MOST_OPCODES) {
            throw new Unreadable(\sprintf('%s hands down more than %s opcodes to its regions.', $this->name, number_format(self::MOST_OPCODES)));
        }

        return $opcodes;
    }

    /** @return array<string, string> */
    private static function opcodes(string $text): array
    {
        $opcodes = [];
        foreach (explode("\n", $text) as $line) {
            // A value ends where the next opcode begins; a path may have spaces of its own.
            preg_match_all('/(?<!\S)([A-Za-z_]\w*)=/', $line, $found, \PREG_OFFSET_CAPTURE);
            foreach ($found[0] as $i => [$begin, $at]) {
                $from = $at + \strlen($begin);
                $value = substr($line, $from, ($found[0][$i + 1][1] ?? \strlen($line)) - $from);
                $name = strtolower($found[1][$i][0]);
                if (!\in_array($name, self::LONG, true) && str_contains($value, ' ')) {
                    $value = strtok($value, " \t");
                }
                $opcodes[$name] = trim((string) $value);
            }
        }

        return $opcodes;
    }
}
