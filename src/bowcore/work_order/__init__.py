"""What a job was taken in with: services and their needs, holds, supply, roles, policies, cautions."""
