<?php

namespace Pestle\Core\Beat\Change;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Fields;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Kit\Answer;
use Pestle\Core\Kit\Pad;
use Pestle\Core\Kit\PlayMode;
use Pestle\Core\Kit\Role;

/** Changes one or more settings of a filled pad. */
final readonly class SetPad implements Change
{
    private const LABELS = [
        'name' => 'Name', 'role' => 'Role', 'levelDb' => 'Level', 'pan' => 'Pan', 'tuneCents' => 'Tune',
        'start' => 'Start', 'end' => 'End', 'mode' => 'Play mode', 'choke' => 'Choke group', 'channel' => 'Channel',
        'reversed' => 'Direction', 'answer' => 'Answer',
    ];

    /** @param non-empty-array<string, mixed> $settings */
    private function __construct(private string $pad, private array $settings)
    {
    }

    public static function from(Fields $fields): self
    {
        $settings = [];
        foreach (array_intersect($fields->keys(), array_keys(self::LABELS)) as $field) {
            $settings[$field] = match ($field) {
                'name' => $fields->text('name'),
                'role' => $fields->choice('role', Role::class),
                'levelDb' => $fields->number('levelDb', Pad::MIN_LEVEL_DB, Pad::MAX_LEVEL_DB),
                'pan' => $fields->number('pan', -1, 1),
                'tuneCents' => $fields->whole('tuneCents', -Pad::MAX_TUNE_CENTS, Pad::MAX_TUNE_CENTS),
                'mode' => $fields->choice('mode', PlayMode::class),
                'choke' => $fields->whole('choke', 0, Pad::CHOKE_GROUPS),
                'reversed' => $fields->flag('reversed'),
                'answer' => $fields->choice('answer', Answer::class),
                'channel' => $fields->id('channel'),
                default => $fields->frame($field),
            };
        }
        if ([] === $settings) {
            throw new InvalidChange('Nothing to change was named.');
        }

        return new self($fields->id('pad'), $settings);
    }

    public function apply(Beat $beat): Beat
    {
        $pad = $beat->pad($this->pad);
        if (isset($this->settings['channel'])) {
            $beat->channel(\is_string($this->settings['channel']) ? $this->settings['channel'] : '');
        }
        try {
            $changed = $pad->with($this->settings);
        } catch (\InvalidArgumentException $e) {
            throw new InvalidChange($e->getMessage());
        }

        return $beat->withKit($beat->kit->withPad($changed))->withoutUnusedChannels();
    }

    public function label(Beat $beat): string
    {
        return self::LABELS[array_key_first($this->settings)].' of '.$beat->pad($this->pad)->name;
    }

    public function touches(): array
    {
        return ['kit/'.$this->pad];
    }
}
