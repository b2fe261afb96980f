<?php

namespace Pestle\App\Apart;

use Pestle\App\Entity\Sample;
use Pestle\App\Queue\JobState;
use Pestle\Core\Apart\Owned;
use Pestle\Core\Apart\RecordingPart;

/** How far a recording is taken apart. */
final readonly class ApartState
{
    private const HIGH = 0.8;
    private const MIDDLING = 0.6;

    /**
     * @param array<string, Sample> $samples by part, once all are made
     * @param JobState|null         $job     of the background that is for it
     * @param int                   $done    frames
     * @param string                $problem why it stopped, in words
     */
    public function __construct(public Sample $sample, public array $samples, public ?JobState $job, public int $done, private ?Owned $owned, public string $problem)
    {
    }

    /** none, waits, works, stopped or done. */
    public function name(): string
    {
        return match (true) {
            [] !== $this->samples => 'done',
            JobState::Waiting === $this->job => 'waits',
            JobState::Running === $this->job => 'works',
            JobState::Aside === $this->job || $this->done > 0 || '' !== $this->problem => 'stopped',
            default => 'none',
        };
    }

    /** @return array<string, string> of each part how sure it is, in a word */
    public function sure(): array
    {
        $words = [];
        foreach (0 === $this->done ? [] : RecordingPart::cases() as $part) {
            $sure = $this->owned?->sure($part);
            $words[$part->value] = match (true) {
                null === $sure => 'hardly any',
                $sure >= self::HIGH => 'high',
                $sure >= self::MIDDLING => 'middling',
                default => 'low',
            };
        }

        return $words;
    }

    /** How much of the recording's power no part owns, in percent. */
    public function nobodys(): int
    {
        return (int) round(100.0 * ($this->owned?->nobodys() ?? 0.0));
    }

    /** @return array<string, mixed> for the page */
    public function toArray(): array
    {
        return ['state' => $this->name(), 'done' => $this->done, 'frames' => $this->sample->frames, 'sure' => $this->sure(), 'nobodys' => $this->nobodys(), 'problem' => $this->problem];
    }
}
