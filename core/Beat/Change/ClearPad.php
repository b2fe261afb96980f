<?php

namespace Pestle\Core\Beat\Change;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Fields;
use Pestle\Core\Pattern\Hit;
use Pestle\Core\Pattern\Pattern;

/** Takes the sound off a pad, and its hits out of all patterns. */
final readonly class ClearPad implements Change
{
    private function __construct(private string $pad)
    {
    }

    public static function from(Fields $fields): self
    {
        return new self($fields->id('pad'));
    }

    public function apply(Beat $beat): Beat
    {
        $beat->pad($this->pad);
        $patterns = array_map(fn (Pattern $p): Pattern => $p->withHits(
            array_values(array_filter($p->hits, fn (Hit $hit): bool => $hit->pad !== $this->pad)),
        ), $beat->patterns);

        return $beat->with(['patterns' => $patterns, 'kit' => $beat->kit->withoutPad($this->pad)])->withoutUnusedChannels();
    }

    public function label(Beat $beat): string
    {
        return 'Clear '.$beat->pad($this->pad)->name;
    }

    public function touches(): array
    {
        return ['kit/'.$this->pad, 'pattern', 'mixer'];
    }
}
