<?php

declare(strict_types=1);

namespace Ypomna\Standin\Web;

/** One site of the stand-in web, under one or more host names. */
interface Site
{
    /**
     * Its host names at that moment; a name that lapsed is no longer among them.
     *
     * @return list<string>
     */
    public function hosts(\DateTimeImmutable $now): array;

    public function answer(Request $request): Response;
}
