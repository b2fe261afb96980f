<?php

namespace Pestle\App\Gather;

use Doctrine\ORM\EntityManagerInterface;
use League\Flysystem\FilesystemOperator;
use Pestle\App\Entity\Sample;
use Pestle\App\Queue\Work;
use Pestle\App\Storage\DataFolder;
use Pestle\Core\Audio\AudioSource;
use Pestle\Core\Audio\PcmDecoder;
use Pestle\Core\Audio\PcmFile;
use Pestle\Core\Audio\SoundFile;
use Pestle\Core\Audio\UnreadableAudio;
use Pestle\Core\Audio\WaveOverview;
use Pestle\Core\Audio\WavMarks;
use Pestle\Core\Beat\Fields;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Exchange\Carried\Facts;
use Pestle\Core\Kit\Role;
use Pestle\Core\Render\SampleLibrary;
use Pestle\Core\Sample\Edits;
use Pestle\Core\Signal\Decibels;

/** Takes files in: keeps the original by its hash, makes it playable, listens to it. The same file twice is one sample. */
final readonly class SampleStore
{
    /** What is shorter is listened to as it arrives, in about a second; the rest afterwards, in the background. */
    private const AT_ONCE_SECONDS = 60;

    public function __construct(
        private EntityManagerInterface $entities,
        private FilesystemOperator $originals,
        private DataFolder $folder,
        private Work $work,
    ) {
    }

    /**
     * @param bool $waits   whether edits that take long are worked out by who asks
     * @param bool $givesUp whether that ends when nobody asks for them any more
     */
    public function library(bool $waits = true, bool $givesUp = false): SampleLibrary
    {
        return new SampleLibrary($this->folder->samples(), $this->folder->edited(), $waits, $givesUp);
    }

    /** The outline of a sample with edits; worked out once. */
    public function outline(Sample $sample, Edits $edits): WaveOverview
    {
        $sound = $edits->of($sample->hash);
        if ($sound === $sample->hash) {
            return $sample->wave();
        }
        $path = $this->folder->edited().'/'.hash('sha256', $sound).'.outline';
        $kept = is_file($path) ? (string) file_get_contents($path) : '';
        if ('' === $kept) {
            $kept = WaveOverview::of($this->library(false)->open($sound))->encode();
            file_put_contents($part = $path.'.'.bin2hex(random_bytes(4)), $kept);
            rename($part, $path);
        }

        return WaveOverview::decode($kept);
    }

    /** What the file says of places in it. */
    public function marks(Sample $sample): WavMarks
    {
        return WavMarks::in($this->library()->path($sample->hash), $sample->frames);
    }

    public function find(string $hash): ?Sample
    {
        return $this->entities->find(Sample::class, $hash);
    }

    /**
     * @param list<string> $hashes
     *
     * @return array<string, Sample> those that are there, by hash
     */
    public function named(array $hashes): array
    {
        $found = $this->entities->getRepository(Sample::class)->findBy(['hash' => array_values(array_unique($hashes))]);

        return array_combine(array_map(static fn (Sample $s): string => $s->hash, $found), $found);
    }

    /** @return list<Sample> newest first */
    public function all(): array
    {
        return $this->entities->getRepository(Sample::class)->findBy(['clearedAt' => null], ['addedAt' => 'DESC', 'name' => 'ASC']);
    }

    /**
     * Samples of the library, in the order in which they are found.
     *
     * @param string             $where  condition, order and limit in SQL
     * @param list<string|float> $values
     *
     * @return list<Sample>
     */
    public function inOrder(string $where, array $values = []): array
    {
        /** @var list<string> $hashes */
        $hashes = $this->entities->getConnection()->fetchFirstColumn('SELECT hash FROM sample WHERE '.$where, $values);
        $samples = $this->named($hashes);

        return array_map(static fn (string $hash): Sample => $samples[$hash], $hashes);
    }

    /** @return list<Sample> recordings with a tempo, the newest first */
    public function loops(int $most): array
    {
        return $this->inOrder("cleared_at IS NULL AND said_kind <> 'one-shot' AND said_bpm IS NOT NULL ORDER BY added_at DESC, name LIMIT $most");
    }

    /** @return list<Sample> single sounds, those of a role first, by name */
    public function singles(Role $first, int $most): array
    {
        return $this->inOrder("cleared_at IS NULL AND said_kind = 'one-shot' ORDER BY said_role <> ?, name LIMIT $most", [$first->value]);
    }

    /** @return list<Sample> the newest */
    public function newest(int $most): array
    {
        return $this->entities->getRepository(Sample::class)->findBy(['clearedAt' => null], ['addedAt' => 'DESC', 'name' => 'ASC'], $most);
    }

    /** Samples of an older version get what the library is searched by. */
    public function settleAll(): void
    {
        while ([] !== $some = $this->entities->getRepository(Sample::class)->findBy(['words' => null], [], 200)) {
            array_walk($some, static fn (Sample $s) => $s->settle());
            $this->entities->flush();
            $this->entities->clear();
        }
    }

    /** Sends what was never listened to, or by an older version, to be. */
    public function listenToTheRest(): void
    {
        foreach ($this->all() as $sample) {
            if ($sample->heardBy() < Listening::VERSION) {
                $this->work->hand(new Listen($sample->hash));
            }
        }
    }

    /**
     * @param string            $path a file that may go afterwards
     * @param list<string>|null $tags of one of many: it gets them, and is listened to in the background however short it is
     *
     * @throws UnreadableAudio
     */
    public function add(string $path, string $name, ?array $tags = null): Sample
    {
        $hash = hash_file('sha256', $path);
        if (false === $hash) {
            throw UnreadableAudio::because($name, 'the file cannot be read.');
        }
        $known = $this->find($hash);
        if (null !== $known && is_file($this->library()->path($hash))) {
            $known->clearedAt = null;
            $known->alsoCalled(self::title($name));
            $this->entities->flush();

            return $known;
        }
        [$source, $note] = $this->stored($path, $name, $hash);
        if (null !== $known) {
            return $known;
        }
        $sample = self::described($source, $hash, $name, $note);
        foreach (FileTags::of($path) as $fact => $value) {
            $sample->correct($fact, $value);
        }
        $sample->tags = $tags ?? [];
        $this->entities->persist($sample);
        $short = null === $tags && $source->seconds() <= self::AT_ONCE_SECONDS;
        if ($short) {
            $sample->hear(Listening::to($source));
        }
        $this->entities->flush();
        if (!$short) {
            $this->work->hand(new Listen($hash));
        }

        return $sample;
    }

    /**
     * A sample that comes from another library, with what is known about it there; asked for again it is found.
     *
     * @param string               $path   of the original
     * @param string|null          $played a WAV that is played in its place; where the original can be played, it is
     * @param array<string, mixed> $facts  what was heard; where it cannot be used, it is listened to anew
     *
     * @throws UnreadableAudio
     */
    public function bring(string $path, ?string $played, string $name, array $facts): Sample
    {
        $hash = (string) hash_file('sha256', $path);
        [$source, $note] = $this->stored($path, $name, $hash, $played);
        $sample = $this->find($hash) ?? self::described($source, $hash, $name, $note);
        try {
            $heard = Facts::read(new Fields($facts), $sample->frames);
        } catch (InvalidChange) {
            $heard = ['version' => 0];
        }
        if (Listening::VERSION === $heard['version']) {
            $sample->hear($heard);
        }
        $this->entities->persist($sample);
        $this->entities->flush();
        if ($sample->heardBy() < Listening::VERSION) {
            $this->work->hand(new Listen($hash));
        }

        return $sample;
    }

    /** One that was cleared out is back. */
    public function wake(string $hash): void
    {
        $sample = $this->find($hash);
        if (null !== $sample?->clearedAt) {
            $sample->clearedAt = null;
            $this->entities->flush();
        }
    }

    /**
     * @return array{PcmFile, list<string>} what is played, and what was done to it, in words
     *
     * @throws UnreadableAudio
     */
    private function stored(string $path, string $name, string $hash, ?string $played = null): array
    {
        $note = $this->makePlayable($path, $name, $hash, $played);
        $this->keepOriginal($path, $hash);
        $source = SoundFile::open($this->library()->path($hash), $name);

        return [$source, [...$note, ...$source->repairs]];
    }

    /** @return list<string> what was done to it, in words */
    private function makePlayable(string $path, string $name, string $hash, ?string $played): array
    {
        $target = $this->library()->path($hash);
        if (!is_dir(\dirname($target))) {
            @mkdir(\dirname($target), 0o700, true);
        }
        $part = $target.'.'.bin2hex(random_bytes(4)).'.part';
        $kind = ForeignDecoder::kind($path);
        try {
            if (null !== $kind) {
                null === $played ? ForeignDecoder::toWav($path, $kind, $part, $name) : copy($played, $part);
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
            // A file that is played as it came lies on the disk once, under two names.
            $played = $this->library()->path($hash);
            $target = $this->folder->originals().'/'.$place;
            is_dir(\dirname($target)) || @mkdir(\dirname($target), 0o700, true);
            if (hash_file('sha256', $played) === $hash && @link($played, $target)) {
                return;
            }
            $stream = fopen($path, 'r');
            $this->originals->writeStream($place.'.part', $stream);
            $this->originals->move($place.'.part', $place);
        }
    }

    /** @param list<string> $note */
    private static function described(PcmFile $source, string $hash, string $name, array $note): Sample
    {
        $peak = self::peak($source);
        if ($peak >= PcmDecoder::LOUDEST) {
            $note[] = \sprintf('values of more than %.0f dB above full scale are cut there', Decibels::fromGain(PcmDecoder::LOUDEST));
        }

        return new Sample(
            $hash,
            self::title($name),
            $source->frames(),
            $source->sampleRate(),
            $source->channels,
            $source->format->label(),
            Decibels::fromGain($peak),
            WaveOverview::of($source)->encode(),
            mb_substr(implode('. ', $note), 0, 300),
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
