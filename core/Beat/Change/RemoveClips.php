<?php

namespace Pestle\Core\Beat\Change;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Fields;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Song\Clip;

/** Takes clips off their tracks. */
final readonly class RemoveClips implements Change
{
    /** @param non-empty-list<string> $clips */
    private function __construct(private array $clips)
    {
    }

    public static function from(Fields $fields): self
    {
        $clips = $fields->ids('clips', Clip::MOST);

        return new self([] === $clips ? throw InvalidChange::field('clips', 'must name at least one clip.') : $clips);
    }

    public function apply(Beat $beat): Beat
    {
        array_map($beat->clip(...), $this->clips);

        return $beat->with(['clips' => array_diff_key($beat->clips, array_flip($this->clips))]);
    }

    public function label(Beat $beat): string
    {
        return 'Delete '.(\count($this->clips) > 1 ? \count($this->clips).' clips' : $beat->clip($this->clips[0])->name);
    }

    public function touches(): array
    {
        return array_map(static fn (string $id): string => 'clip/'.$id, $this->clips);
    }
}
