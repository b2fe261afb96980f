<?php

namespace Pestle\App\Gather;

use Doctrine\ORM\EntityManagerInterface;
use Pestle\App\Carry\BringBeats;
use Pestle\App\Entity\BeatRecord;
use Pestle\App\Entity\Sample;
use Pestle\App\Entity\Upload;
use Pestle\App\Live\CatchLive;
use Pestle\App\Queue\Work;
use Pestle\App\Shelf\BringKit;
use Pestle\App\Storage\DataFolder;
use Pestle\App\Storage\DiskTrouble;
use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Exchange\Fixing;
use Pestle\Core\Sample\Edits;
use Pestle\Core\Song\LiveSet;

/** Files on their way in, in parts that may be sent again; a part counts when it is written whole. */
final readonly class Uploads
{
    public const MAX_BYTES = 2_000_000_000;
    public const PART_BYTES = 4_194_304;
    /** What is larger takes long to take in: shorter files do not wait for it. */
    private const LONG_BYTES = 30_000_000;

    public function __construct(private EntityManagerInterface $entities, private DataFolder $folder, private Work $work)
    {
    }

    /** @param list<string>|null $tags of one of many files that come together */
    public function begin(string $name, int $size, ?array $tags = null): Upload
    {
        if ($size < 1) {
            throw new InvalidChange(\sprintf('%s is empty. Choose a file with sound in it.', $name));
        }
        if ($size > self::MAX_BYTES) {
            throw new InvalidChange(\sprintf('%s is larger than 2 GB. Cut it into pieces, or convert it to a smaller format.', $name));
        }
        $upload = new Upload(bin2hex(random_bytes(12)), $name, $size, $tags);
        $this->entities->persist($upload);
        $this->entities->flush();

        return $upload;
    }

    public function find(string $id): ?Upload
    {
        return $this->entities->find(Upload::class, $id);
    }

    public function path(Upload $upload): string
    {
        return $this->place($upload->id);
    }

    /** Where the bytes of an upload lie until they have become what they were sent for. */
    public function place(string $id): string
    {
        return $this->folder->incoming().'/'.$id;
    }

    /**
     * Takes the part that begins at $at. One that is there already is taken again without harm.
     *
     * @param bool $kept whether it is kept for something else, in place of becoming a sample
     */
    public function receive(Upload $upload, int $at, string $bytes, bool $kept = false): void
    {
        if (Upload::RECEIVING !== $upload->state) {
            if ('' === $bytes || $at + \strlen($bytes) !== $upload->received) {
                throw new InvalidChange('This upload is complete already.');
            }
            // Its answer was lost on the way, and its work with it where the process ended before that was handed out.
            if (Upload::LISTENING === $upload->state) {
                $this->work->hand(new Arrive($upload->id), self::lane($upload));
            }

            return;
        }
        if ($at > $upload->received || $at + \strlen($bytes) > $upload->size || \strlen($bytes) > self::PART_BYTES || '' === $bytes) {
            throw new InvalidChange(\sprintf('This part does not fit: %s bytes are here of %s.', number_format($upload->received), number_format($upload->size)));
        }
        $file = fopen($this->path($upload), 'c');
        if (false === $file || 0 !== fseek($file, $at) || \strlen($bytes) !== @fwrite($file, $bytes) || !fclose($file)) {
            throw new InvalidChange(DiskTrouble::full($upload->name));
        }
        $upload->received = max($upload->received, $at + \strlen($bytes));
        if ($upload->received === $upload->size) {
            $upload->state = $kept ? Upload::KEPT : Upload::LISTENING;
        }
        $this->entities->flush();
        if (Upload::LISTENING === $upload->state) {
            $this->work->hand(new Arrive($upload->id), self::lane($upload));
        }
    }

    private static function lane(Upload $upload): string
    {
        return $upload->size > self::LONG_BYTES ? Work::LONG : Work::SHORT;
    }

    public function lift(Sample $sample, Edits $edits): Upload
    {
        $upload = $this->own($sample->name.' lifted.wav');
        $this->work->hand(new Lift($upload->id, $edits->of($sample->hash)));

        return $upload;
    }

    /**
     * A kit that lies in files which are complete: a zip, or an SFZ file with its samples.
     *
     * @param list<string> $ids of their uploads
     *
     * @throws InvalidChange
     */
    public function kit(array $ids): Upload
    {
        $files = array_map(fn (string $id): ?Upload => $this->find($id), $ids);
        $main = array_values(array_filter($files, static fn (?Upload $u): bool => null !== $u && 1 === preg_match('/\.(?:zip|sfz)$/i', $u->name)));
        if ([] === $main) {
            throw new InvalidChange('Choose a zip that holds an SFZ file, or an SFZ file together with its samples.');
        }
        foreach ($files as $file) {
            if (Upload::KEPT !== $file?->state) {
                throw new InvalidChange(\sprintf('%s has not arrived whole. Bring it in again.', $file->name ?? 'One of the files'));
            }
        }
        $upload = $this->own($main[0]->name);
        $bytes = array_sum(array_map(static fn (?Upload $u): int => $u->size ?? 0, $files));
        $this->work->hand(new BringKit($upload->id, $ids), $bytes > self::LONG_BYTES ? Work::LONG : Work::SHORT);

        return $upload;
    }

    /**
     * An archive of beats that is complete.
     *
     * @throws InvalidChange
     */
    public function carried(string $id): Upload
    {
        $upload = $this->find($id);
        if (Upload::KEPT !== $upload?->state) {
            throw new InvalidChange(\sprintf('%s has not arrived whole. Bring it in again.', $upload->name ?? 'The archive'));
        }
        $upload->state = Upload::LISTENING;
        $this->entities->flush();
        $this->work->hand(new BringBeats($upload->id), $upload->size > self::LONG_BYTES ? Work::LONG : Work::SHORT);

        return $upload;
    }

    /** Something Pestle makes itself arrives the same way as a file. */
    private function own(string $name): Upload
    {
        $upload = new Upload(bin2hex(random_bytes(12)), mb_substr($name, -120), 0);
        $upload->state = Upload::LISTENING;
        $this->entities->persist($upload);
        $this->entities->flush();

        return $upload;
    }

    /** @return list<array{id: string, channel: string}> an upload for each channel that the part may sound through */
    public function fix(BeatRecord $record, Beat $beat, string $entry, string $part, Fixing $fixing): array
    {
        $rows = [];
        foreach ($fixing->channels() as $channel) {
            $upload = $this->own(\sprintf('%s in %s, %s.wav', $beat->part($part)->name, $beat->section($beat->entry($entry)->section)->name, $beat->channel($channel)->name));
            $this->work->hand(new Fix($upload->id, $record->id, $record->head, $entry, $part, $channel));
            $rows[] = ['id' => $upload->id, 'channel' => $channel];
        }

        return $rows;
    }

    public function resample(BeatRecord $record, string $name, ?string $what, ?string $channel, bool $wet): Upload
    {
        $upload = $this->own($name.'.wav');
        $this->work->hand(new Resample($upload->id, $record->id, $record->head, $what, $channel, $wet));

        return $upload;
    }

    /** Bars of what is performed become a sample. */
    public function caught(BeatRecord $record, string $name, LiveSet $set, int $from, int $to, bool $wet): Upload
    {
        $upload = $this->own($name.'.wav');
        $this->work->hand(new CatchLive($upload->id, $record->id, $record->head, $set->toArray(), $from, $to, $wet));

        return $upload;
    }

    /** Whether it was not taken back while it was worked on. */
    public function isWanted(Upload $upload): bool
    {
        $state = $this->entities->getConnection()->fetchOne('SELECT state FROM upload WHERE id = ?', [$upload->id]);
        if (Upload::LISTENING !== $state) {
            $upload->fail('Cancelled.');
        }

        return Upload::LISTENING === $state;
    }

    /** Says why nothing came of it, past all else that was to be stored: that may be the trouble. */
    public function fail(Upload $upload, string $message): void
    {
        $upload->fail($message);
        $this->entities->getConnection()->executeStatement('UPDATE upload SET state = ?, message = ? WHERE id = ?', [$upload->state, $upload->message, $upload->id]);
    }

    public function cancel(Upload $upload): void
    {
        if (\in_array($upload->state, [Upload::RECEIVING, Upload::LISTENING, Upload::KEPT], true)) {
            $upload->fail('Cancelled.');
            $this->entities->flush();
            @unlink($this->path($upload));
        }
    }
}
