<?php

namespace Pestle\App\Gather;

use Pestle\App\Queue\Work;
use Pestle\App\Storage\DataFolder;
use Pestle\Core\Analysis\Onsets;
use Symfony\Component\Messenger\Attribute\AsMessageHandler;

/** Where hits begin in a sound: of a short one at once, of a long one when somebody has found them. */
final readonly class HitFinder
{
    /** Longest sound whose hits are found while a page waits, in seconds. */
    private const AT_ONCE_SECONDS = 60;

    public function __construct(private SampleStore $samples, private DataFolder $folder, private Work $work)
    {
    }

    /** @return list<int>|null frames; null while they are being looked for */
    public function find(EditedSample $sample, float $sensitivity, float $shortest): ?array
    {
        $source = $sample->source();
        if ($source->frames() <= self::AT_ONCE_SECONDS * $source->sampleRate()) {
            return Onsets::find($source, $sensitivity, $shortest);
        }
        $wanted = new FindHits($sample->edits->of($sample->sample->hash), $sensitivity, $shortest);
        $kept = json_decode((string) @file_get_contents($this->folder->edited().'/'.$wanted->name()), true);
        if (\is_array($kept)) {
            return array_values(array_filter($kept, is_int(...)));
        }
        $this->work->hand($wanted);

        return null;
    }

    #[AsMessageHandler]
    public function __invoke(FindHits $message): void
    {
        $found = Onsets::find($this->samples->library()->open($message->sound), $message->sensitivity, $message->shortest);
        $path = $this->folder->edited().'/'.$message->name();
        file_put_contents($path.'.part', json_encode($found, \JSON_THROW_ON_ERROR));
        rename($path.'.part', $path);
    }
}
