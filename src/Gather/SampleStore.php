<?php

namespace Pestle\App\Gather;

use Doctrine\ORM\EntityManagerInterface;
use League\Flysystem\FilesystemOperator;
use Pestle\App\Entity\Sample;
use Pestle\App\Storage\DataFolder;
use Pestle\Core\Analysis\Onsets;
use Pestle\Core\Analysis\TempoGuess;
use Pestle\Core\Audio\AudioSource;
use Pestle\Core\Audio\PcmFile;
use Pestle\Core\Audio\SoundFile;
use Pestle\Core\Audio\UnreadableAudio;
use Pestle\Core\Audio\WaveOverview;
use Pestle\Core\Render\SampleLibrary;
use Pestle\Core\Signal\Decibels;

/** Takes files in: keeps the original by its hash, makes it playable, listens to it. The same file twice is one sample. */
final readonly class SampleStore
{
    /** Longest stretch that is searched for hits and tempo, in seconds. */
    private const LISTEN_SECONDS = 120;

    public function __construct(
        private EntityManagerInterface $entities,
        private FilesystemOperator $originals,
        private DataFolder $folder,
    ) {
    }

    public function library(): SampleLibrary
    {
        return new SampleLibrary($this->folder->samples());
    }

    public function find(string $hash): ?Sample
    {
        return $this->entities->find(Sample::class, $hash);
    }

    /** @return list<Sample> newest first */
    public function all(): array
    {
        return $this->entities->getRepository(Sample::class)->findBy([], ['addedAt' => 'DESC', 'name' => 'ASC']);
    }

    /**
     * @param string $path a file that may go afterwards
     *
     * @throws UnreadableAudio
     */
    public function add(string $path, string $name): Sample
    {
        $hash = hash_file('sha256', $path);
        if (false === $hash) {
            throw UnreadableAudio::because($name, 'the file cannot be read.');
        }
        $known = $this->find($hash);
        if (null !== $known && is_file($this->library()->path($hash))) {
            return $known;
        }
        $note = $this->makePlayable($path, $name, $hash);
        $this->keepOriginal($path, $hash);
        $source = SoundFile::open($this->library()->path($hash), $name);
        $sample = $this->listen($source, $hash, self::title($name), implode('. ', [...$note, ...$source->repairs]));
        if (null === $known) {
            $this->entities->persist($sample);
            $this->entities->flush();
        }

        return $known ?? $sample;
    }

    /** @return list<string> what was done to it, in words */
    private function makePlayable(string $path, string $name, string $hash): array
    {
        $target = $this->library()->path($hash);
        if (!is_dir(\dirname($target))) {
            @mkdir(\dirname($target), 0o700, true);
        }
        $part = $target.'.'.bin2hex(random_bytes(4)).'.part';
        $kind = ForeignDecoder::kind($path);
        try {
            if (null !== $kind) {
                ForeignDecoder::toWav($path, $kind, $part, $name);
            }
            $opened = SoundFile::open(null === $kind ? $path : $part, $name);
            if (null === $kind && !copy($path, $part)) {
                throw UnreadableAudio::because($name, 'it could not be stored: the disk may be full.');
            }
            rename($part, $target);
        } finally {
            if (is_file($part)) {
                unlink($part);
            }
        }
        $note = null === $kind ? [] : ['decoded from '.strtoupper($kind)];

        return $opened->channels > 2 ? [...$note, \sprintf('%d channels are played folded down to stereo', $opened->channels)] : $note;
    }

    private function keepOriginal(string $path, string $hash): void
    {
        $place = substr($hash, 0, 2).'/'.$hash;
        if (!$this->originals->fileExists($place)) {
            $stream = fopen($path, 'r');
            $this->originals->writeStream($place.'.part', $stream);
            $this->originals->move($place.'.part', $place);
        }
    }

    private function listen(PcmFile $source, string $hash, string $name, string $note): Sample
    {
        $overview = WaveOverview::of($source);
        $heard = new Excerpt($source, self::LISTEN_SECONDS);
        $flux = Onsets::flux($heard);
        $tempo = TempoGuess::from($flux, $heard->frames() / $heard->sampleRate());

        return new Sample(
            $hash,
            $name,
            $source->frames(),
            $source->sampleRate(),
            $source->channels,
            $source->format->label(),
            Decibels::fromGain(self::peak($source)),
            $tempo?->bpm,
            $tempo?->bars,
            $tempo->confidence ?? 0.0,
            Onsets::pick($heard, $flux, 0.5, 0.05),
            $overview->encode(),
            mb_substr($note, 0, 300),
        );
    }

    private static function peak(AudioSource $source): float
    {
        $peak = 0.0;
        for ($at = 0, $frames = $source->frames(); $at < $frames; $at += 65536) {
            $peak = max($peak, $source->read($at, min(65536, $frames - $at))->peak());
        }

        return $peak;
    }

    /** A file's name without its folder and ending, fit to be read. */
    private static function title(string $name): string
    {
        $base = (string) preg_replace('/\.[A-Za-z0-9]{1,5}$/', '', basename(str_replace('\\', '/', $name)));
        $clean = trim((string) preg_replace('/[\x00-\x1f\x7f_]+/u', ' ', mb_scrub($base)));

        return mb_substr('' === $clean ? 'Sample' : $clean, 0, 70);
    }
}
