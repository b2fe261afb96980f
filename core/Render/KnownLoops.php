<?php

namespace Pestle\Core\Render;

/**
 * What was answered for loops: asked the same again (after an undo, on another page, when Pestle starts) nothing is
 * reckoned anew as long as the segments are there. Losing any of it costs time and nothing else.
 */
final class KnownLoops
{
    private const MOST = 24;

    /** @var array<string, LoopAnswer> what was sent, by its name; what was sent longest ago comes first */
    private array $sent = [];
    /** @var array<string, string> names of what answers, by question; the one asked longest ago comes first */
    private array $answers = [];
    /** @var array<string, LoopAnswer> by question, where it is not written yet */
    private array $unsaved = [];

    public function __construct(private readonly ?SegmentFiles $files)
    {
    }

    public static function question(string $beat, string $what): string
    {
        return hash('xxh128', MixChain::ENGINE."\nloop ".$what."\n".$beat);
    }

    public function sent(string $name): ?LoopAnswer
    {
        return $this->sent[$name] ?? null;
    }

    public function send(LoopAnswer $answer): void
    {
        unset($this->sent[$answer->name]);
        $this->sent[$answer->name] = $answer;
        $this->sent = \array_slice($this->sent, -self::MOST, null, true);
    }

    public function find(string $question): ?LoopAnswer
    {
        return $this->sent[$this->answers[$question] ?? ''] ?? LoopAnswer::unpacked($this->files?->read($question) ?? '');
    }

    /** From now on a question is answered by what was sent under a name. */
    public function keep(string $question, string $name): void
    {
        $isNew = ($this->answers[$question] ?? '') !== $name;
        unset($this->answers[$question]);
        $this->answers[$question] = $name;
        $this->answers = \array_slice($this->answers, -self::MOST, null, true);
        if ($isNew && null !== $this->files) {
            $this->unsaved[$question] = $this->sent[$name];
            $this->unsaved = \array_slice($this->unsaved, -self::MOST, null, true);
        }
    }

    public function hasUnsaved(): bool
    {
        return [] !== $this->unsaved;
    }

    /** Writes one of those that wait. */
    public function save(): void
    {
        $question = array_key_first($this->unsaved);
        if (null !== $question) {
            $this->files?->write($question, $this->unsaved[$question]->packed());
            unset($this->unsaved[$question]);
        }
    }
}
