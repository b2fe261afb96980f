<?php

namespace Pestle\Core\Analysis;

use Pestle\Core\Audio\AudioSource;

/** All that can be heard in a recording without being told. */
final readonly class Heard
{
    private const SHORTEST_SECONDS = 0.03;
    private const SONG_SECONDS = 45.0;
    private const PITCH_SECONDS = 20.0;
    /** What sounds shorter than this is one sound, whatever it does inside. */
    private const SOUND_SECONDS = 0.7;
    /** Longest sound that may be a single note, and how sure its pitch has to be. */
    private const NOTE_SECONDS = 6.0;
    private const ONE_NOTE = 0.95;

    /**
     * @param list<Hit>   $hits
     * @param string      $kind      one-shot, loop or song
     * @param float       $highShare of what becomes louder, 0 to 1
     * @param string|null $role      of a one-shot: what it is likeliest to be for, as roles of pads are named
     * @param float       $roleSure  0 to 1
     */
    private function __construct(
        public string $kind,
        public Loudness $loudness,
        public array $hits,
        public ?TempoGuess $tempo,
        public ?Beats $beats,
        public ?KeyGuess $key,
        public ?PitchGuess $pitch,
        public float $highShare,
        public Chroma $chroma,
        public ?string $role,
        public float $roleSure,
    ) {
    }

    public static function in(AudioSource $source): self
    {
        $seconds = $source->frames() / $source->sampleRate();
        $strength = OnsetStrength::of($source);
        $hits = Hits::at($source, Onsets::pick($source, $strength, 0.5, self::SHORTEST_SECONDS), $strength->peak);
        $pitch = $seconds < self::PITCH_SECONDS ? PitchGuess::of($source) : null;
        $shape = $seconds < self::SONG_SECONDS ? SoundShape::of($source) : null;
        $kind = self::kind($hits, $seconds, $pitch, $shape);
        $tempo = 'one-shot' === $kind ? null : TempoGuess::from($strength, $hits, $seconds);
        $beats = null === $tempo ? null : Beats::follow($strength, $hits, $tempo, $seconds);
        $loudness = Loudness::of($source);
        $chroma = Chroma::of($source);

        [$role, $sure] = 'one-shot' === $kind && null !== $shape && $shape->peak > 0.0 ? SingleSound::role($source, $shape, $pitch) : [null, 0.0];

        return new self($kind, $loudness, $hits, $tempo, $beats, KeyGuess::of($chroma), $pitch, $strength->highShare(), $chroma, $role, $sure);
    }

    /** @param list<Hit> $hits */
    private static function kind(array $hits, float $seconds, ?PitchGuess $pitch, ?SoundShape $shape): string
    {
        if ($seconds >= self::SONG_SECONDS) {
            return 'song';
        }
        // One note that is held is one sound, however often it swells: a hummed tone has no tempo.
        if ($seconds < self::NOTE_SECONDS && null !== $pitch && $pitch->confidence >= self::ONE_NOTE) {
            return 'one-shot';
        }
        // What begins once and dies away is one sound, however roughly its room does.
        if (null !== $shape && $seconds < self::NOTE_SECONDS && $shape->attacks() < 2 && $shape->diesAway()) {
            return 'one-shot';
        }
        $loud = array_filter($hits, static fn (Hit $hit): bool => $hit->level > 0.1);

        return $seconds < self::SOUND_SECONDS || \count($loud) < 3 ? 'one-shot' : 'loop';
    }
}
