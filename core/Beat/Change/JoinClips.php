<?php

namespace Pestle\Core\Beat\Change;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Fields;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Beat\Timeline;
use Pestle\Core\Song\Clip;

/** Makes one clip of two, where the second goes on with the recording as the first leaves it. */
final readonly class JoinClips implements Change
{
    private function __construct(private string $clip)
    {
    }

    public static function from(Fields $fields): self
    {
        return new self($fields->id('clip'));
    }

    public function apply(Beat $beat): Beat
    {
        $clip = $beat->clip($this->clip);
        $time = Timeline::song($beat);
        $next = array_values(array_filter($beat->clips, static fn (Clip $c): bool => $clip->goesOnIn($c, $time)))[0] ?? null;
        if (null === $next) {
            throw new InvalidChange(\sprintf('Nothing goes on where %s ends: what is joined is the same recording, heard as it is, and follows at once.', $clip->name));
        }
        $clips = array_diff_key($beat->clips, [$next->id => true]);

        return $beat->with(['clips' => array_replace($clips, [$clip->id => $clip->joined($next)])]);
    }

    public function label(Beat $beat): string
    {
        return 'Join '.$beat->clip($this->clip)->name;
    }

    public function touches(): array
    {
        return ['clip'];
    }
}
