<?php

namespace Pestle\Core\Beat\Change;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Fields;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Pattern\Feel;

/** Sets how patterns are felt, one or several at once, or one lane of a pattern, which then has a feel of its own. */
final readonly class SetFeel implements Change
{
    /**
     * @param non-empty-list<string> $patterns
     * @param string|null            $lane     pad of the lane
     * @param array<string, mixed>   $settings
     */
    private function __construct(private array $patterns, private ?string $lane, private array $settings)
    {
    }

    public static function from(Fields $fields): self
    {
        $patterns = $fields->ids('patterns', Beat::MAX_PATTERNS);
        $settings = $fields->settings(Feel::parameters());
        if (\in_array('groove', $fields->keys(), true)) {
            $settings['groove'] = $fields->has('groove') ? $fields->id('groove') : '';
        }
        if ([] === $patterns || [] === $settings) {
            throw new InvalidChange('Nothing to change was named.');
        }

        return new self($patterns, $fields->has('lane') ? $fields->id('lane') : null, $settings);
    }

    public function apply(Beat $beat): Beat
    {
        if ('' !== $groove = \is_string($this->settings['groove'] ?? null) ? $this->settings['groove'] : '') {
            $beat->groove($groove) ?? throw new InvalidChange('This groove is not in the beat any more.');
        }
        foreach ($this->patterns as $id) {
            $pattern = $beat->pattern($id);
            $feel = $pattern->feelOf($this->lane)->with($this->settings);
            $beat = $beat->withPattern(null === $this->lane ? $pattern->with(['feel' => $feel]) : $pattern->withLane($this->lane, $pattern->lane($this->lane)->with(['feel' => $feel])));
        }

        return $beat;
    }

    public function label(Beat $beat): string
    {
        $field = (string) array_key_first($this->settings);
        $whose = match (true) {
            null !== $this->lane => $beat->kit->pad($this->lane)->name ?? 'a group',
            \count($this->patterns) > 1 => \count($this->patterns).' patterns',
            default => $beat->pattern($this->patterns[0])->name,
        };

        return ('groove' === $field ? 'Groove' : Feel::parameters()[$field]->name.' '.Feel::parameters()[$field]->show($this->settings[$field])).' of '.$whose;
    }

    public function touches(): array
    {
        return array_map(fn (string $id): string => 'pattern/'.$id.(null === $this->lane ? '' : '/'.$this->lane), $this->patterns);
    }
}
