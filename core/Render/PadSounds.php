<?php

namespace Pestle\Core\Render;

use Pestle\Core\Audio\AudioSource;
use Pestle\Core\Audio\PcmFile;
use Pestle\Core\Audio\Resampled;
use Pestle\Core\Audio\StereoBlock;
use Pestle\Core\Synth\MadeSounds;

/**
 * Samples as pads play them: at the beat's rate and tuned. Short ones are kept decoded, the ones used longest
 * ago go first; long ones are read from the disk in passing. So memory stays within its bound however long they are.
 */
final class PadSounds
{
    /** Longest sound that is kept whole, in frames. */
    private const SHORT = 262144;
    /** @var array<string, AudioSource> */
    private array $sources = [];
    /** @var array<string, StereoBlock> */
    private array $kept = [];
    private int $keptFrames = 0;
    /** @var array<string, string> what is played for a sound; where it is another one, it is asked again */
    private array $playable = [];
    public readonly ShapedSounds $shaped;
    public readonly MadeSounds $made;

    public function __construct(
        private readonly SampleLibrary $library,
        private readonly int $sampleRate,
        private readonly int $mostFrames = 400_000,
    ) {
        $this->shaped = new ShapedSounds();
        $this->made = new MadeSounds();
    }

    /**
     * The sound itself, or while its edits are being worked out another in its place.
     *
     * @param int $frame from which on it is wanted first
     */
    public function playable(string $sound, int $frame): string
    {
        return $this->playable[$sound] ??= $this->library->isReady($sound, $frame) ? $sound : $this->library->lighter($sound);
    }

    /** Asks anew what is ready: worked-out sounds may have been cleared away. */
    public function forgetReady(): void
    {
        $this->playable = [];
    }

    /** @return array<string, NotMadeYet> what a lighter sound stood for since this was asked last */
    public function missing(): array
    {
        $missing = [];
        foreach ($this->playable as $sound => $played) {
            if ($sound !== $played) {
                $missing[] = (string) $sound;
                unset($this->playable[$sound]);
            }
        }

        return array_combine($missing, array_map(fn (string $sound): NotMadeYet => new NotMadeYet($sound, $this->library->progress($sound)), $missing));
    }

    /** Frames heard a frame of the source: how places in the source become places in what is heard. */
    public function stretch(string $sample, int $tuneCents): float
    {
        return $this->sampleRate / $this->original($sample)->sampleRate() / 2.0 ** ($tuneCents / 1200);
    }

    /** How long a sound is in frames of its own rate. */
    public function recorded(string $sample): int
    {
        return $this->original($sample)->frames();
    }

    /** How long a sound is as it is heard. */
    public function frames(string $sample, int $tuneCents): int
    {
        return (int) ($this->original($sample)->frames() * $this->stretch($sample, $tuneCents));
    }

    /** Whether every value lies on the grid already: integers of up to 24 bits, played as they are. */
    public function isOnGrid(string $sample, int $tuneCents): bool
    {
        $source = $this->source($sample, $tuneCents);

        return $source instanceof PcmFile && !$source->format->isFloat() && $source->format->bits() <= 24 && $source->channels <= 2;
    }

    public function read(string $sample, int $tuneCents, int $start, int $count): StereoBlock
    {
        $source = $this->source($sample, $tuneCents);
        $frames = $source->frames();
        if ($frames > self::SHORT || $start < 0 || $start + $count > $frames) {
            return self::shared($source->read($start, $count));
        }
        $whole = $this->whole($sample.' '.$tuneCents, $source);
        $left = \array_slice($whole->left, $start, $count);

        return new StereoBlock($left, $whole->left === $whole->right ? $left : \array_slice($whole->right, $start, $count));
    }

    /** As PcmFile::stereo16(); null also when the sound has to be worked out. */
    public function stereo16(string $sample, int $tuneCents, int $start, int $count): ?string
    {
        $source = $this->source($sample, $tuneCents);

        return $source instanceof PcmFile ? $source->stereo16($start, $count) : null;
    }

    private function source(string $sample, int $tuneCents): AudioSource
    {
        return $this->sources[$sample.' '.$tuneCents] ??= Resampled::toRate($this->original($sample), $this->sampleRate, 2.0 ** ($tuneCents / 1200));
    }

    private function original(string $sample): AudioSource
    {
        if (\count($this->sources) > 256) {
            $this->sources = [];
        }

        return $this->sources[$sample] ??= $this->library->open($sample);
    }

    private function whole(string $key, AudioSource $source): StereoBlock
    {
        if (isset($this->kept[$key])) {
            $block = $this->kept[$key];
            unset($this->kept[$key]);

            return $this->kept[$key] = $block;
        }
        $block = self::shared($source->read(0, $source->frames()));
        $this->kept[$key] = $block;
        $this->keptFrames += $block->frames();
        while ($this->keptFrames > $this->mostFrames && \count($this->kept) > 1) {
            $this->keptFrames -= array_shift($this->kept)->frames();
        }

        return $block;
    }

    /** One array for both sides when they are equal: what follows then works on one. */
    private static function shared(StereoBlock $block): StereoBlock
    {
        return $block->left === $block->right ? new StereoBlock($block->left, $block->left) : $block;
    }
}
