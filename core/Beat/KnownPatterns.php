<?php

namespace Pestle\Core\Beat;

use Pestle\Core\Pattern\Pattern;

/**
 * Patterns that were read lately, by their JSON: whoever is sent a beat of thousands of hits after each edit reads those
 * that changed.
 */
final class KnownPatterns
{
    /** Bytes of JSON of all that is remembered, at the most: as objects they take about seven times as much. */
    private const MOST_BYTES = 6_000_000;
    /** An object with all it holds. */
    private const OBJECT = '~\G,?(\{(?:[^{}"]++|"(?:[^"\\\\]++|\\\\.)*+"|(?1))*+\})~';
    private const LIST = '"patterns":[';

    /** @var array<string, array{Pattern, int}> with the bytes of its JSON, by its hash; the one used longest ago first */
    private array $known = [];
    private int $bytes = 0;

    /**
     * Takes the patterns out of a beat's canonical JSON.
     *
     * @return array{string, list<string>}|null the JSON with none, and each pattern's own; null where there is no such list
     */
    public static function apart(string $json): ?array
    {
        $at = strpos($json, self::LIST);
        if (false === $at) {
            return null;
        }
        $patterns = [];
        for ($end = $at + \strlen(self::LIST); 1 === preg_match(self::OBJECT, $json, $found, 0, $end); $end += \strlen($found[0])) {
            $patterns[] = $found[1];
        }

        return ']' === ($json[$end] ?? '') ? [substr($json, 0, $at + \strlen(self::LIST)).substr($json, $end), $patterns] : null;
    }

    /** @param \Closure(string): Pattern $read */
    public function of(string $json, \Closure $read): Pattern
    {
        $hash = hash('xxh128', $json, true);
        $this->bytes += isset($this->known[$hash]) ? 0 : \strlen($json);
        $known = $this->known[$hash] ?? [$read($json), \strlen($json)];
        unset($this->known[$hash]);
        $this->known[$hash] = $known;
        while ($this->bytes > self::MOST_BYTES && \count($this->known) > 1) {
            $this->bytes -= array_shift($this->known)[1];
        }

        return $known[0];
    }
}
