<?php

namespace Pestle\App\Machines;

use Predis\Client;
use Predis\PredisException;

/** A connection to a Redis that is made when it is needed, and anew when it was lost. */
final class Redis
{
    private const SECONDS = 5.0;
    private const PAUSE_MICROSECONDS = 250_000;
    private ?Client $client = null;

    public function __construct(#[\SensitiveParameter] private readonly string $dsn)
    {
    }

    /**
     * @param float $patience seconds for which it is tried again where the queue cannot be reached; it may have been done more than once then
     *
     * @throws QueueAway         where it could not be reached
     * @throws \RuntimeException where it refuses
     */
    public function ask(float $patience, string|int|float ...$command): mixed
    {
        $until = microtime(true) + $patience;
        while (true) {
            try {
                $answer = $this->client()->executeRaw($command, $failed);
                if (!$failed) {
                    return $answer;
                }
                $refusal = \is_string($answer) ? $answer : 'it gave no reason';
                if (!str_starts_with($refusal, 'LOADING') && !str_starts_with($refusal, 'BUSY ')) {
                    throw new \RuntimeException('The queue refuses: '.$refusal);
                }
            } catch (PredisException $e) {
                $refusal = $e->getMessage();
                $this->client?->disconnect();
            }
            if (microtime(true) >= $until) {
                throw new QueueAway('The queue cannot be reached: '.$refusal);
            }
            usleep(self::PAUSE_MICROSECONDS);
        }
    }

    /**
     * Runs a script, which Redis does as one step.
     *
     * @param list<string>           $keys
     * @param list<string|int|float> $values
     *
     * @throws QueueAway
     */
    public function script(float $patience, string $script, array $keys, array $values): mixed
    {
        return $this->ask($patience, 'EVAL', $script, \count($keys), ...$keys, ...$values);
    }

    private function client(): Client
    {
        return $this->client ??= new Client((string) preg_replace('/(?<=[?&])idle=[^&]*&?/', '', $this->dsn), ['parameters' => ['timeout' => self::SECONDS, 'read_write_timeout' => self::SECONDS]]);
    }
}
