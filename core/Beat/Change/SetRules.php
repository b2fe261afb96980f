<?php

namespace Pestle\Core\Beat\Change;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Fields;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Theory\SoundRules;

/** Lets a beat sound by today's rules, or by those of an earlier time. */
final readonly class SetRules implements Change
{
    private function __construct(private SoundRules $rules)
    {
    }

    public static function from(Fields $fields): self
    {
        return new self(SoundRules::tryFrom($fields->whole('rules', 1, SoundRules::NEWEST->value)) ?? throw InvalidChange::field('rules', 'must name rules that are known.'));
    }

    public function apply(Beat $beat): Beat
    {
        return $beat->with(['rules' => $this->rules]);
    }

    public function label(Beat $beat): string
    {
        return $this->rules->areNewest() ? 'Today\'s sound' : 'Earlier sound';
    }

    public function touches(): array
    {
        return ['rules'];
    }
}
