<?php

namespace Pestle\App\Gather;

use Pestle\App\Queue\Work;
use Pestle\App\Storage\DataFolder;
use Pestle\Core\Analysis\HeardNote;
use Pestle\Core\Analysis\Transcription;
use Symfony\Component\Messenger\Attribute\AsMessageHandler;

/** The notes that are heard in a sound: found once by a worker, and kept. */
final readonly class NoteFinder
{
    public function __construct(private SampleStore $samples, private DataFolder $folder, private Work $work)
    {
    }

    /** @return list<HeardNote>|null null while they are being looked for */
    public function find(EditedSample $sample, int $voices): ?array
    {
        $wanted = new FindNotes($sample->edits->of($sample->sample->hash), $voices);
        $kept = json_decode((string) @file_get_contents($this->folder->edited().'/'.$wanted->name()), true);
        if (!\is_array($kept)) {
            $this->work->hand($wanted, Work::SHORT);

            return null;
        }
        $notes = [];
        foreach ($kept as $row) {
            if (\is_array($row) && 5 === \count(array_filter($row, is_numeric(...)))) {
                [$start, $end, $pitch, $velocity, $sure] = array_map(static fn (mixed $v): float => is_numeric($v) ? (float) $v : 0.0, array_values($row));
                $notes[] = new HeardNote($start, $end, (int) $pitch, (int) $velocity, $sure);
            }
        }

        return $notes;
    }

    #[AsMessageHandler]
    public function __invoke(FindNotes $message): void
    {
        $found = Transcription::of($this->samples->library()->open($message->sound), 0 === $message->voices ? null : $message->voices);
        $path = $this->folder->edited().'/'.$message->name();
        file_put_contents($path.'.part', json_encode(array_map(static fn (HeardNote $n): array => [round($n->start, 4), round($n->end, 4), $n->pitch, $n->velocity, $n->confidence], $found), \JSON_THROW_ON_ERROR));
        rename($path.'.part', $path);
    }
}
