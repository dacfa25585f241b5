<?php

declare(strict_types=1);

return [new Ypomna\Tests\Support\LatticeSite()];
