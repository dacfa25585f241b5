<?php

declare(strict_types=1);

namespace Ypomna\App\Api;

use Symfony\Component\HttpKernel\Exception\ConflictHttpException;
use Symfony\Component\HttpKernel\Exception\PreconditionFailedHttpException;
use Ypomna\App\Desk\Circle;
use Ypomna\App\Desk\SomebodyWasFaster;
use Ypomna\App\Desk\WrongValue;

/** What the desk refuses, as programs are told it. */
final class DeskActs
{
    /**
     * @template T
     *
     * @param \Closure(): T $act
     * @param string $above where what was said stands
     *
     * @return T
     */
    public static function done(\Closure $act, string $above = ''): mixed
    {
        try {
            return $act();
        } catch (Circle) {
            throw new ConflictHttpException();
        } catch (SomebodyWasFaster) {
            throw new PreconditionFailedHttpException();
        } catch (WrongValue $e) {
            throw InvalidFields::at($above.$e->pointer, $e->getMessage());
        }
    }

    /** @return array{string|null, bool} beside which one something is to be put, and whether before it */
    public static function beside(Fields $fields): array
    {
        $before = $fields->text('before', 20);
        $after = $fields->text('after', 20);
        if (null !== $before && null !== $after) {
            $fields->wrong('after', 'Either before one or after one.');
        }

        return [$before ?? $after, null !== $before];
    }
}
