<?php

declare(strict_types=1);

namespace Ypomna\App\Shared;

use Doctrine\DBAL\Connection;
use Doctrine\DBAL\Exception\RetryableException;

/** A transaction that is begun again when the database broke it off for another one's sake. */
final class TransactionRetry
{
    private const TRIES = 6;

    /**
     * @template T
     *
     * @param \Closure(): T $act
     *
     * @return T
     */
    public static function transaction(Connection $database, \Closure $act): mixed
    {
        for ($try = 1; true; ++$try) {
            try {
                return $database->transactional($act);
            } catch (RetryableException $e) {
                if ($try >= self::TRIES || $database->isTransactionActive()) {
                    throw $e;
                }
                usleep(random_int(5_000, 40_000) * $try);
            }
        }
    }
}
