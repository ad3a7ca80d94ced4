"""What every answer gets."""

from django.utils.cache import add_never_cache_headers


def fresh_pages(get_response):
    """Pages are never taken from a cache, so that the back button shows the build as it is now."""

    def answer(request):
        response = get_response(request)
        if not response.has_header("Cache-Control"):
            add_never_cache_headers(response)
        return response

    return answer
