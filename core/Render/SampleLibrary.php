<?php

namespace Pestle\Core\Render;

use Pestle\Core\Audio\AudioSource;
use Pestle\Core\Audio\SoundFile;
use Pestle\Core\Audio\UnreadableAudio;
use Pestle\Core\Beat\EditFields;
use Pestle\Core\Beat\Fields;
use Pestle\Core\Sample\Edits;

/**
 * Playable recordings in a folder: one WAV file a sample, named by the hash of its source, two letters a folder.
 * A sample with edits is worked out from its source; what takes long is kept in a second folder.
 */
final readonly class SampleLibrary
{
    /** Bytes that worked-out samples may take; those made longest ago go first. */
    private const MOST_KEPT = 2_000_000_000;
    /** Edits of a sound this short are worked out at once. */
    public const AT_ONCE_SECONDS = 8.0;
    /** Before the pieces that are there, in the name of a sound that stands for one that is being made. */
    private const PIECES = '~';

    /**
     * @param string|null $kept    folder of worked-out samples
     * @param bool        $waits   whether edits that take long are worked out here; else they are refused until somebody did
     * @param bool        $givesUp whether working them out ends when those that don't wait have stopped asking
     * @param float       $atOnce  edits of a sound of so many seconds are worked out at once, also where it does not wait
     */
    public function __construct(private string $folder, private ?string $kept = null, private bool $waits = true, private bool $givesUp = false, private float $atOnce = self::AT_ONCE_SECONDS)
    {
    }

    public function path(string $hash): string
    {
        return $this->folder.'/'.substr($hash, 0, 2).'/'.$hash.'.wav';
    }

    /**
     * @param string $sound hash of a sample, and its edits as Edits::of() writes them; or as lighter() gave it
     * @param int    $frame that is wanted first, where it has yet to be worked out
     *
     * @throws UnreadableAudio  when the sample is gone
     * @throws NotMadeYet       when its edits take long and this library does not wait
     * @throws NotWantedAnyMore when it gave up
     */
    public function open(string $sound, int $frame = 0): AudioSource
    {
        [$name, $pieces] = [...explode(self::PIECES, $sound, 2), ''];
        [$hash, $json] = [...explode('|', $name, 2), ''];
        $source = SoundFile::open($this->path($hash));
        if ('' === $json) {
            return $source;
        }
        $edits = self::edits($json);
        if (null === $this->kept) {
            return $edits->apply($source);
        }
        // What takes long is kept up to there; what comes after it is laid over it in passing.
        [$heavy, $light] = $edits->split();
        if ('' !== $pieces) {
            return $light->apply((new WorkedOut($this->kept, $heavy->of($hash)))->among($heavy->lighter($source->frames())->apply($source), $pieces));
        }
        if (!$this->isReady($sound, $frame)) {
            throw new NotMadeYet($sound, $this->progress($sound));
        }

        return $light->apply([] === $heavy->list ? $source : $this->workedOut($heavy->of($hash), $source, $heavy, $this->kept));
    }

    /**
     * Some of a sound, which may be there although the rest of it is not.
     *
     * @throws NotMadeYet as open(); it asks for these frames to be made first then
     */
    public function openFor(string $sound, int $frame, int $count): AudioSource
    {
        $made = $this->workedOutFor($sound);
        if (null !== $made && !$made[0]->isReady()) {
            [$first, $last] = array_map(fn (int $at): int => intdiv(max(0, $this->beforeLight($sound, $at)), WorkedOut::PIECE), [$frame, $frame + $count - 1]);
            $pieces = $made[0]->pieces();
            if ('' !== $pieces && $last >= $first && '' === trim(substr($pieces, $first, 1 + min($last, \strlen($pieces) - 1) - $first), '1')) {
                $made[0]->ask($first * WorkedOut::PIECE);

                return $this->open($sound.self::PIECES.$pieces);
            }
        }

        return $this->open($sound, $frame);
    }

    /**
     * Whether a sound can be opened without a long wait.
     *
     * @param int $frame that is wanted first
     *
     * @phpstan-impure
     */
    public function isReady(string $sound, int $frame = 0): bool
    {
        $made = $this->waits ? null : $this->workedOutFor($sound);
        if (null === $made || $made[0]->isReady() || SoundFile::open($this->path($made[1]))->seconds() <= $this->atOnce) {
            return true;
        }
        $made[0]->ask($this->beforeLight($sound, $frame));

        return false;
    }

    /** What can be heard of a sound at once, as long as it is: what is made of it, and something lighter for the rest. */
    public function lighter(string $sound): string
    {
        $pieces = ($this->workedOutFor($sound)[0] ?? null)?->pieces() ?? '';
        if (str_contains($pieces, '1')) {
            return $sound.self::PIECES.$pieces;
        }
        [$hash, $json] = [...explode('|', $sound, 2), ''];

        return self::edits($json)->lighter(SoundFile::open($this->path($hash))->frames())->of($hash);
    }

    /**
     * How far a sound is that somebody works out at this moment, 0 to 1; null when nobody does.
     *
     * @phpstan-impure
     */
    public function progress(string $sound): ?float
    {
        return ($this->workedOutFor($sound)[0] ?? null)?->progress();
    }

    /** @return array{WorkedOut, string}|null what is kept of a sound, and the hash of its sample; null when nothing of it takes long */
    private function workedOutFor(string $sound): ?array
    {
        [$hash, $json] = [...explode('|', $sound, 2), ''];
        if ('' === $json || null === $this->kept) {
            return null;
        }
        [$heavy] = self::edits($json)->split();

        return [] === $heavy->list ? null : [new WorkedOut($this->kept, $heavy->of($hash)), $hash];
    }

    /** Where a frame of a sound lies in what is kept of it. */
    private function beforeLight(string $sound, int $frame): int
    {
        [$hash, $json] = [...explode('|', $sound, 2), ''];
        [$heavy, $light] = self::edits($json)->split();

        return $light->toSource($frame, $heavy->length(SoundFile::open($this->path($hash))->frames()));
    }

    private static function edits(string $json): Edits
    {
        return '' === $json ? new Edits() : EditFields::read(new Fields(['edits' => $json]), 'edits');
    }

    private function workedOut(string $sound, AudioSource $source, Edits $edits, string $folder): AudioSource
    {
        $made = new WorkedOut($folder, $sound);
        if (!$made->isReady()) {
            is_dir($folder) || @mkdir($folder, 0o700, true);
            self::makeRoom($folder);
            $made->make(static fn (): AudioSource => $edits->apply($source), $this->givesUp);
        }

        return SoundFile::open($made->path);
    }

    private static function makeRoom(string $folder): void
    {
        $files = glob($folder.'/*.{wav,outline,hits}', \GLOB_BRACE) ?: [];
        $sizes = array_combine($files, array_map(static fn (string $f): int => (int) @filesize($f), $files));
        uksort($sizes, static fn (string $a, string $b): int => @filemtime($a) <=> @filemtime($b));
        $sum = array_sum($sizes);
        foreach ($sizes as $file => $size) {
            if ($sum <= self::MOST_KEPT) {
                break;
            }
            @unlink($file);
            $sum -= $size;
        }
    }
}
